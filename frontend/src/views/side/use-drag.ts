import { useRef } from 'react';

import type { Offset } from '../../state/compare';

const STILL_PX = 4;
/** A finger that stays so long opens the frame's menu. */
const LONG_MS = 600;

/** Whether a pointer that is let go was a finger that stayed, and so no click. */
export function isLongPress(
  { pointerType, timeStamp }: Pick<React.PointerEvent, 'pointerType' | 'timeStamp'>,
  since: number,
): boolean {
  return pointerType === 'touch' && timeStamp - since > LONG_MS;
}

/**
 * What a pointer does to a picture that is looked at close: move it, move it alone with Alt, or
 * click.
 */
export function useDrag({
  moves,
  scale,
  onMove,
  onEnd,
  onClick,
}: {
  /** whether it can be moved now */
  moves: boolean;
  /** CSS px for a pixel of the picture */
  scale: number;
  onMove: (by: Offset, alone: boolean) => void;
  /** all were moved together, and that is over */
  onEnd: () => void;
  onClick: (event: React.PointerEvent) => void;
}) {
  const drag = useRef<{
    x: number;
    y: number;
    moved: boolean;
    alone: boolean;
    since: number;
  } | null>(null);
  return {
    onPointerDown: (event: React.PointerEvent) => {
      if (event.button !== 0) return;
      event.currentTarget.setPointerCapture(event.pointerId);
      const { clientX: x, clientY: y, altKey: alone, timeStamp: since } = event;
      drag.current = { x, y, moved: false, alone, since };
    },
    onPointerMove: (event: React.PointerEvent) => {
      const from = drag.current;
      if (!from || !moves) return;
      const dx = event.clientX - from.x;
      const dy = event.clientY - from.y;
      if (!from.moved && Math.hypot(dx, dy) < STILL_PX) return;
      drag.current = { ...from, x: event.clientX, y: event.clientY, moved: true };
      onMove({ x: -dx / scale, y: -dy / scale }, from.alone);
    },
    onPointerUp: (event: React.PointerEvent) => {
      const from = drag.current;
      drag.current = null;
      if (!from) return;
      if (isLongPress(event, from.since)) return;
      if (!from.moved) onClick(event);
      else if (!from.alone) onEnd();
    },
    onPointerCancel: () => {
      drag.current = null;
    },
  };
}
