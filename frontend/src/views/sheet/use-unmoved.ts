import { useEffect, useLayoutEffect, useRef, useState, type RefObject } from 'react';

import type { Row } from './layout';

/** ms that a pointer rests before what lies under it may move */
const RESTS_MS = 3000;

/**
 * While analysis goes on, what lies under a pointer that is used stays where it is: this gives the
 * value of before until the pointer rests, or leaves. `by`: what the person chose; another choice
 * counts at once.
 */
export function useUnmoved<T>(
  value: T,
  by: string,
  busy: boolean,
  box: RefObject<HTMLElement | null>,
): T {
  const [kept, setKept] = useState({ value, by });
  const [used, setUsed] = useState(false);
  useEffect(() => {
    const element = box.current;
    if (!element || !busy) return;
    let timer = 0;
    const rest = () => {
      clearTimeout(timer);
      setUsed(false);
    };
    const move = (event: PointerEvent) => {
      if (event.pointerType === 'touch') return;
      setUsed(true);
      clearTimeout(timer);
      timer = window.setTimeout(rest, RESTS_MS);
    };
    element.addEventListener('pointermove', move);
    element.addEventListener('pointerleave', rest);
    return () => {
      rest();
      element.removeEventListener('pointermove', move);
      element.removeEventListener('pointerleave', rest);
    };
  }, [box, busy]);
  const stays = busy && used && by === kept.by;
  if (!stays && (kept.value !== value || kept.by !== by)) setKept({ value, by });
  return stays ? kept.value : value;
}

/** Where a frame's row begins, in px; undefined where it is in none. */
function topOf(rows: readonly Row[], id: number): number | undefined {
  let top = 0;
  for (const row of rows) {
    if (row.cells.some((cell) => cell.id === id)) return top;
    top += row.height;
  }
  return undefined;
}

/** When analysis lays the sheet out anew, a frame that is looked at keeps its height on screen. */
export function useAnchored(
  rows: readonly Row[],
  by: string,
  busy: boolean,
  box: RefObject<HTMLElement | null>,
  looked: number | null,
): void {
  const before = useRef({ rows, by });
  useLayoutEffect(() => {
    const was = before.current;
    before.current = { rows, by };
    if (!busy || was.by !== by || was.rows === rows || looked === null) return;
    const [from, to] = [topOf(was.rows, looked), topOf(rows, looked)];
    if (from !== undefined && to !== undefined && from !== to) box.current?.scrollBy(0, to - from);
  }, [rows, by, busy, box, looked]);
}
