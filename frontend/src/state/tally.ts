/** How far a cull is: what is decided and kept, and groups of which nothing is picked. */
import { t } from '@lingui/core/macro';

import type { Frame, Mark } from './frames';

export interface Tally {
  frames: number;
  picks: number;
  rejects: number;
  undecided: number;
  groups: number;
  /** the first frames of the groups without a pick */
  bare: number[];
}

export function tallyOf(frames: readonly Frame[], marks: ReadonlyMap<number, Mark>): Tally {
  const counts = { pick: 0, reject: 0, undecided: 0 };
  const groups = new Map<number, { first: number; picked: boolean }>();
  for (const { id, group } of frames) {
    const decision = marks.get(id)?.decision ?? 'undecided';
    counts[decision] += 1;
    const entry = groups.get(group) ?? { first: id, picked: false };
    entry.picked ||= decision === 'pick';
    groups.set(group, entry);
  }
  return {
    frames: frames.length,
    picks: counts.pick,
    rejects: counts.reject,
    undecided: counts.undecided,
    groups: groups.size,
    bare: [...groups.values()].filter((group) => !group.picked).map((group) => group.first),
  };
}

/** "4 min", "1 h 20 min", "under a minute". */
export function duration(seconds: number): string {
  const minutes = Math.round(seconds / 60);
  if (minutes < 1) return t`under a minute`;
  return minutes < 60
    ? t`${minutes} min`
    : t`${Math.floor(minutes / 60)} h ${String(minutes % 60).padStart(2, '0')} min`;
}

/** "6 too many", "5 to go", "as many as wanted". */
export function againstTarget(picks: number, target: number): string {
  if (picks === target) return t`as many as wanted`;
  return picks > target ? t`${picks - target} too many` : t`${target - picks} to go`;
}
