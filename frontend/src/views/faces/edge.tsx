import { t } from '@lingui/core/macro';
import { useRef } from 'react';

import { shareMoved } from './sizes';

const KEY_STEP_PX = 24;

/** The upper edge of the panel: dragged, or moved by the arrows, it makes the panel higher or lower. */
export function Edge({
  share,
  whole,
  onMove,
  onDone,
}: {
  share: number;
  /** px of the height that the panel has a share of */
  whole: number;
  onMove: (share: number) => void;
  onDone: (share: number) => void;
}) {
  const held = useRef<{ y: number; share: number } | null>(null);
  const at = (y: number) => {
    const from = held.current!;
    return shareMoved(from.share, from.y - y, whole);
  };
  // What it takes may be less than it may take: the edge starts from where it is seen.
  const taken = (edge: HTMLElement) =>
    Math.min(share, (edge.parentElement?.offsetHeight ?? 0) / Math.max(1, whole));
  return (
    <div
      role="separator"
      aria-orientation="horizontal"
      aria-label={t`Height of the faces panel`}
      aria-valuenow={Math.round(100 * share)}
      tabIndex={0}
      title={t`Drag: higher or lower`}
      className="h-2 shrink-0 cursor-row-resize touch-none bg-black/20 hover:bg-black/50 pointer-coarse:h-5"
      onPointerDown={(event) => {
        event.currentTarget.setPointerCapture(event.pointerId);
        held.current = { y: event.clientY, share: taken(event.currentTarget) };
      }}
      onPointerMove={(event) => {
        if (held.current) onMove(at(event.clientY));
      }}
      onPointerUp={(event) => {
        if (!held.current) return;
        onDone(at(event.clientY));
        held.current = null;
      }}
      onPointerCancel={() => {
        if (held.current) onDone(held.current.share);
        held.current = null;
      }}
      onKeyDown={(event) => {
        const up = event.key === 'ArrowUp' ? 1 : event.key === 'ArrowDown' ? -1 : 0;
        if (!up) return;
        event.preventDefault();
        event.stopPropagation();
        onDone(shareMoved(taken(event.currentTarget), up * KEY_STEP_PX, whole));
      }}
    />
  );
}
