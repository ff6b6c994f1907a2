/** Fingers on the photograph: a swipe steps, two fingers zoom and move it. */
import { useRef } from 'react';

const SWIPE_PX = 60;

type Pointer = Pick<React.PointerEvent, 'pointerId' | 'pointerType' | 'clientX' | 'clientY'>;

export interface Pinch {
  /** how much farther apart the fingers are than before */
  factor: number;
  /** CSS px in the window: the place between them, and where it was */
  at: { x: number; y: number };
  from: { x: number; y: number };
}

export function useTouch({
  near,
  onStep,
  onPinch,
}: {
  near: boolean;
  onStep: (way: 1 | -1) => void;
  onPinch: (pinch: Pinch) => void;
}) {
  const fingers = useRef(new Map<number, { x: number; y: number; fromX: number; fromY: number }>());
  const pinched = useRef(false);
  const between = () => {
    const [a, b] = [...fingers.current.values()];
    if (!a || !b) return null;
    return { x: (a.x + b.x) / 2, y: (a.y + b.y) / 2, apart: Math.hypot(a.x - b.x, a.y - b.y) };
  };
  return {
    down: (event: Pointer) => {
      if (event.pointerType !== 'touch') return;
      const { clientX: x, clientY: y } = event;
      if (fingers.current.size === 0) pinched.current = false;
      fingers.current.set(event.pointerId, { x, y, fromX: x, fromY: y });
    },
    /** Whether two fingers are at it, so that nothing is dragged. */
    move: (event: Pointer): boolean => {
      const finger = fingers.current.get(event.pointerId);
      if (!finger) return false;
      const from = between();
      finger.x = event.clientX;
      finger.y = event.clientY;
      const at = between();
      if (!from || !at) return false;
      pinched.current = true;
      if (from.apart > 0) onPinch({ factor: at.apart / from.apart, at, from });
      return true;
    },
    /** Whether it was more than a tap. */
    up: (event: Pointer): boolean => {
      const finger = fingers.current.get(event.pointerId);
      if (!finger) return false;
      const two = pinched.current;
      fingers.current.delete(event.pointerId);
      if (two) {
        pinched.current = fingers.current.size > 0;
        return true;
      }
      const dx = event.clientX - finger.fromX;
      const dy = event.clientY - finger.fromY;
      if (near || Math.abs(dx) < SWIPE_PX || Math.abs(dx) < 2 * Math.abs(dy)) return false;
      onStep(dx < 0 ? 1 : -1);
      return true;
    },
    cancel: () => fingers.current.clear(),
  };
}
