/** Orders of the sheet, its runs, and what a folded group shows: pure rules. */
import { t } from '@lingui/core/macro';

import type { Settings } from '../api/client';
import type { Frame, Mark } from './frames';

/** alike: the most like a frame first, in an order that the server says. */
export type Order = Settings['sort'] | 'alike';
type Marks = ReadonlyMap<number, Mark>;
type Frames = ReadonlyMap<number, Frame>;

const RANK = { pick: 0, undecided: 1, reject: 2 } as const;

/** Ids in another order than that of time, in which they come; equals stay in the order of time. */
export function inOrder(
  ids: readonly number[],
  order: Order,
  frames: Frames,
  marks: Marks,
): readonly number[] {
  if (order === 'time' || order === 'alike') return ids;
  const names = new Intl.Collator('en', { numeric: true });
  const blur = (id: number) => frames.get(id)?.blur ?? Infinity;
  const by: Record<Exclude<Order, 'time' | 'alike'>, (a: number, b: number) => number> = {
    name: (a, b) => names.compare(frames.get(a)?.name ?? '', frames.get(b)?.name ?? ''),
    focus: (a, b) => (blur(a) === blur(b) ? 0 : blur(a) - blur(b)),
    stars: (a, b) => (marks.get(b)?.stars ?? 0) - (marks.get(a)?.stars ?? 0),
    decision: (a, b) => rank(marks, a) - rank(marks, b),
  };
  return [...ids].sort(by[order]);
}

function rank(marks: Marks, id: number): number {
  return RANK[marks.get(id)?.decision ?? 'undecided'];
}

/** The run of the sheet that a frame belongs to: its group, or what the sheet is sorted by. */
export function runOf(frame: Frame, order: Order, marks: Marks): number {
  if (order === 'time') return frame.group;
  if (order === 'stars') return marks.get(frame.id)?.stars ?? 0;
  return order === 'decision' ? rank(marks, frame.id) : 0;
}

/** What such a run is called, where it is not a group. */
export function runName(run: number, order: Order): string {
  if (order === 'name') return t`By name`;
  if (order === 'alike') return t`The most like the first one first`;
  if (order === 'focus') return t`The sharpest first`;
  if (order === 'decision') return ['Picks', 'Undecided', 'Rejects'][run]!;
  return run ? `${run}★` : t`No stars`;
}

/** How many frames of its group are better than a frame. */
type Worse = (id: number) => number;
const NOBODY_KNOWS: Worse = () => 0;

/**
 * The frame that stands for a group: a pick before others, then stars, then the best of the group
 * by what is known of it, then the sharpest.
 */
export function bestOf(
  ids: readonly number[],
  frames: Frames,
  marks: Marks,
  worse: Worse = NOBODY_KNOWS,
): number | undefined {
  return ids.toSorted(
    (a, b) =>
      rank(marks, a) - rank(marks, b) ||
      (marks.get(b)?.stars ?? 0) - (marks.get(a)?.stars ?? 0) ||
      worse(a) - worse(b) ||
      (frames.get(a)?.blur ?? 99) - (frames.get(b)?.blur ?? 99),
  )[0];
}

/** Without what folded groups hide; the active frame stands for its own group. */
export function unfolded(
  ids: readonly number[],
  folded: ReadonlySet<number>,
  active: number | null,
  frames: Frames,
  marks: Marks,
  worse: Worse = NOBODY_KNOWS,
): readonly number[] {
  if (!folded.size) return ids;
  const members = new Map<number, number[]>();
  for (const id of ids) {
    const group = frames.get(id)?.group ?? -1;
    if (!folded.has(group)) continue;
    const held = members.get(group);
    if (held) held.push(id);
    else members.set(group, [id]);
  }
  const stands = new Set(
    [...members.values()].map((own) =>
      active !== null && own.includes(active) ? active : bestOf(own, frames, marks, worse),
    ),
  );
  return ids.filter((id) => !folded.has(frames.get(id)?.group ?? -1) || stands.has(id));
}
