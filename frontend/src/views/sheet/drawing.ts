/** Drawing in the sheet: a frame around frames selects them; with a mark's key held it sweeps. */
import { useEffect, useRef, useState, type RefObject } from 'react';

import { sweep, type Sweep } from '../../state/marking';
import { heldMark } from '../../state/held-key';
import { useShoot } from '../../state/shoot';
import { pictureTop, type Row } from './layout';

export interface Rect {
  left: number;
  top: number;
  right: number;
  bottom: number;
}

/** From so many px on, a press is drawing, not a click. */
const DRAWS_PX = 6;
/** So near to the edge the sheet moves along, by so much a step. */
const EDGE_PX = 36;
const SCROLL_PX = 14;

/**
 * The frames that a rectangle touches. All in px of the sheet's content: `left` and `top` are those
 * of the first row, `height` is that of the pictures.
 */
export function touched(
  rows: readonly Row[],
  { left, top, height }: { left: number; top: number; height: number },
  rect: Rect,
): number[] {
  const ids: number[] = [];
  let y = top;
  for (const row of rows) {
    const upper = y + pictureTop(row);
    y += row.height;
    if (upper > rect.bottom) break;
    if (upper + height < rect.top) continue;
    for (const cell of row.cells) {
      if (left + cell.x <= rect.right && left + cell.x + cell.width >= rect.left) {
        ids.push(cell.id);
      }
    }
  }
  return ids;
}

/** A stroke is followed in steps so small that it misses no frame. */
const STEP_PX = 8;

/** The frames that a straight stroke crosses, in its order. */
export function crossed(
  rows: readonly Row[],
  place: Parameters<typeof touched>[1],
  from: { x: number; y: number },
  to: { x: number; y: number },
): number[] {
  const steps = Math.max(1, Math.ceil(Math.hypot(to.x - from.x, to.y - from.y) / STEP_PX));
  const ids = new Set<number>();
  for (let n = 0; n <= steps; n += 1) {
    const x = from.x + ((to.x - from.x) * n) / steps;
    const y = from.y + ((to.y - from.y) * n) / steps;
    for (const id of touched(rows, place, { left: x, top: y, right: x, bottom: y })) ids.add(id);
  }
  return [...ids];
}

interface Stroke {
  from: { x: number; y: number };
  last: { x: number; y: number };
  client: { x: number; y: number };
  before: readonly number[];
  sweep: Sweep | null;
  draws: boolean;
}

/** Handlers for the sheet's box, and the rectangle that is being drawn, in px of its content. */
export function useDrawing(
  box: RefObject<HTMLDivElement | null>,
  rows: readonly Row[],
  place: { left: number; top: number; height: number },
) {
  const [rect, setRect] = useState<Rect | null>(null);
  const stroke = useRef<Stroke | null>(null);
  const timer = useRef(0);
  const swallow = useRef(false);

  const inContent = (client: { x: number; y: number }) => {
    const bounds = box.current!.getBoundingClientRect();
    return { x: client.x - bounds.left, y: client.y - bounds.top + box.current!.scrollTop };
  };
  const draw = () => {
    const now = stroke.current;
    if (!now || !box.current) return;
    const at = inContent(now.client);
    if (now.sweep) {
      now.sweep.over(crossed(rows, place, now.last, at));
      now.last = at;
    } else {
      const drawn = around(now.from, at);
      setRect(drawn);
      const ids = touched(rows, place, drawn);
      useShoot.getState().select([...new Set([...now.before, ...ids])]);
    }
  };
  const scroll = () => {
    const bounds = box.current?.getBoundingClientRect();
    const now = stroke.current;
    if (!bounds || !now?.draws) return;
    const by =
      now.client.y < bounds.top + EDGE_PX
        ? -SCROLL_PX
        : now.client.y > bounds.bottom - EDGE_PX
          ? SCROLL_PX
          : 0;
    if (by) {
      box.current?.scrollBy(0, by);
      draw();
    }
    timer.current = requestAnimationFrame(scroll);
  };
  const end = () => {
    cancelAnimationFrame(timer.current);
    stroke.current?.sweep?.end();
    swallow.current = stroke.current?.draws ?? false;
    stroke.current = null;
    setRect(null);
  };
  useEffect(() => () => cancelAnimationFrame(timer.current), []);

  return {
    rect,
    handlers: {
      onPointerDown: (event: React.PointerEvent) => {
        swallow.current = false;
        if (event.button !== 0 || event.pointerType === 'touch') return;
        const client = { x: event.clientX, y: event.clientY };
        const from = inContent(client);
        // The scroll bar is not ours.
        if (from.x > box.current!.clientWidth) return;
        const adds = event.ctrlKey || event.metaKey || event.shiftKey;
        const before = adds ? useShoot.getState().selection : [];
        stroke.current = { from, last: from, client, before, sweep: null, draws: false };
      },
      onPointerMove: (event: React.PointerEvent) => {
        const now = stroke.current;
        if (!now) return;
        now.client = { x: event.clientX, y: event.clientY };
        if (!now.draws) {
          const at = inContent(now.client);
          if (Math.hypot(at.x - now.from.x, at.y - now.from.y) < DRAWS_PX) return;
          now.draws = true;
          event.currentTarget.setPointerCapture(event.pointerId);
          if (heldMark.edit) now.sweep = sweep(heldMark.edit);
          timer.current = requestAnimationFrame(scroll);
        }
        draw();
      },
      onPointerUp: end,
      onPointerCancel: end,
      onClickCapture: (event: React.MouseEvent) => {
        if (swallow.current) event.stopPropagation();
        swallow.current = false;
      },
    },
  };
}

function around(a: { x: number; y: number }, b: { x: number; y: number }): Rect {
  return {
    left: Math.min(a.x, b.x),
    top: Math.min(a.y, b.y),
    right: Math.max(a.x, b.x),
    bottom: Math.max(a.y, b.y),
  };
}
