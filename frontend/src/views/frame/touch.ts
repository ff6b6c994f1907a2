/** Fingers on the photograph: a swipe steps, two fingers spread look close, pinched step back. */
import { useRef } from 'react';

const SWIPE_PX = 60;
const SPREAD = 1.25;

type Pointer = Pick<React.PointerEvent, 'pointerId' | 'pointerType' | 'clientX' | 'clientY'>;

export function useTouch({
  near,
  onStep,
  onClose,
}: {
  near: boolean;
  onStep: (way: 1 | -1) => void;
  onClose: (close: 0 | 1) => void;
}) {
  const fingers = useRef(new Map<number, { x: number; y: number; fromX: number; fromY: number }>());
  const spread = useRef(0);
  const done = useRef(false);
  const apart = () => {
    const [a, b] = [...fingers.current.values()];
    return a && b ? Math.hypot(a.x - b.x, a.y - b.y) : 0;
  };
  return {
    down: (event: Pointer) => {
      if (event.pointerType !== 'touch') return;
      const { clientX: x, clientY: y } = event;
      if (fingers.current.size === 0) done.current = false;
      fingers.current.set(event.pointerId, { x, y, fromX: x, fromY: y });
      spread.current = apart();
    },
    /** Whether two fingers are at it, so that nothing is dragged. */
    move: (event: Pointer): boolean => {
      const finger = fingers.current.get(event.pointerId);
      if (!finger) return false;
      finger.x = event.clientX;
      finger.y = event.clientY;
      if (fingers.current.size < 2) return false;
      const ratio = spread.current ? apart() / spread.current : 1;
      if (!done.current && (near ? ratio < 1 / SPREAD : ratio > SPREAD)) {
        done.current = true;
        onClose(near ? 0 : 1);
      }
      return true;
    },
    /** Whether it was more than a tap. */
    up: (event: Pointer): boolean => {
      const finger = fingers.current.get(event.pointerId);
      if (!finger) return false;
      const pinched = fingers.current.size > 1 || done.current;
      fingers.current.delete(event.pointerId);
      if (pinched) {
        done.current = fingers.current.size > 0;
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
