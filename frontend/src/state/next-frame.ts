/** Where to go next: pure rules over the frames that pass the filter. */
import type { AfterMark } from '../api/client';
import type { Mark } from './frames';

interface Sight {
  visible: readonly number[];
  markOf: (id: number) => Mark | undefined;
  groupOf: (id: number) => number | undefined;
}

/** The frame to go to after a mark on `active`, or `active` itself. */
export function afterMark(rule: AfterMark, active: number, sight: Sight): number {
  const { visible, markOf, groupOf } = sight;
  const at = visible.indexOf(active);
  if (at < 0 || rule === 'stay') return active;
  if (rule === 'next') return visible[at + 1] ?? active;
  if (rule === 'next_undecided') return nextUndecided(active, sight) ?? active;
  const group = groupOf(active);
  const open = (id: number) => groupOf(id) === group && markOf(id)?.decision === 'undecided';
  const later = visible.slice(at + 1).find(open) ?? visible.slice(0, at).find(open);
  return later ?? neighbourGroup(active, 1, sight) ?? active;
}

/** The next undecided frame behind `active`, else the first one of all; undefined if none is. */
export function nextUndecided(active: number, { visible, markOf }: Sight): number | undefined {
  const at = visible.indexOf(active);
  const open = (id: number) => id !== active && markOf(id)?.decision === 'undecided';
  return visible.slice(at + 1).find(open) ?? visible.find(open);
}

/** The first visible frame of the next (1) or previous (−1) group. */
export function neighbourGroup(
  active: number,
  way: 1 | -1,
  { visible, groupOf }: Sight,
): number | undefined {
  const group = groupOf(active);
  let at = visible.indexOf(active);
  if (at < 0) return undefined;
  while (visible[at] !== undefined && groupOf(visible[at]!) === group) at += way;
  const next = visible[at];
  if (next === undefined) return undefined;
  const other = groupOf(next);
  while (at > 0 && groupOf(visible[at - 1]!) === other) at -= 1;
  return visible[at];
}

/**
 * The frame to stand on when the visible ones change: the same one if it is still there, else the
 * one that took its place (the next that remains, or the one before).
 */
export function keepPlace(
  active: number | null,
  before: readonly number[],
  after: readonly number[],
): number | null {
  if (after.length === 0) return null;
  if (active === null) return after[0]!;
  const there = new Set(after);
  if (there.has(active)) return active;
  const at = before.indexOf(active);
  if (at < 0) return after[0]!;
  const later = before.slice(at + 1).find((id) => there.has(id));
  if (later !== undefined) return later;
  return before.slice(0, at).findLast((id) => there.has(id)) ?? after[0]!;
}

/** The last visible frame, if it wasn't there before and anything was; else undefined. */
export function newcomer(before: readonly number[], after: readonly number[]): number | undefined {
  const last = after.at(-1);
  return before.length && last !== undefined && !before.includes(last) ? last : undefined;
}

/** All visible frames between two, both included, from the first to the second. */
export function between(visible: readonly number[], from: number, to: number): number[] {
  const a = visible.indexOf(from);
  const b = visible.indexOf(to);
  if (a < 0 || b < 0) return [to];
  return a <= b ? visible.slice(a, b + 1) : visible.slice(b, a + 1).reverse();
}
