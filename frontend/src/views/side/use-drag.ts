import { useRef } from 'react';

import type { Offset } from '../../state/compare';

const STILL_PX = 4;

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
  const drag = useRef<{ x: number; y: number; moved: boolean; alone: boolean } | null>(null);
  return {
    onPointerDown: (event: React.PointerEvent) => {
      if (event.button !== 0) return;
      event.currentTarget.setPointerCapture(event.pointerId);
      drag.current = { x: event.clientX, y: event.clientY, moved: false, alone: event.altKey };
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
      if (!from.moved) onClick(event);
      else if (!from.alone) onEnd();
    },
    onPointerCancel: () => {
      drag.current = null;
    },
  };
}
