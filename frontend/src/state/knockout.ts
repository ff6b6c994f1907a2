/** Knockout: the best so far against the next one; the path can be walked back. */
import { t } from '@lingui/core/macro';
import { create } from 'zustand';
import { createJSONStorage, persist } from 'zustand/middleware';

import type { Decision } from '../api/client';
import { groupHere, lookAnew } from './compare';
import { markThese } from './marking';
import { useShoot } from './shoot';

export const MOST_FRAMES = 200;

/** What becomes of a frame that loses: nothing, or it is rejected. */
export type Losers = 'undecided' | 'rejected';

interface Bout {
  best: number;
  next: number;
  stays: number;
  /** the loser's decision before, where it was rejected for it: walking back gives it back */
  lost: Decision | null;
}

interface KnockoutState {
  shootId: number;
  ids: readonly number[];
  path: readonly Bout[];
  losers: Losers;
  /** the winner's decision before it was picked for it */
  won: Decision | null;
  /** whether one is under way */
  on: boolean;
}

export const useKnockout = create<KnockoutState>()(
  persist(
    (): KnockoutState => ({
      shootId: 0,
      ids: [],
      path: [],
      losers: 'undecided',
      won: null,
      on: false,
    }),
    { name: 'winnow.knockout', storage: createJSONStorage(() => sessionStorage) },
  ),
);

/**
 * The best so far, the next one against it (undefined at the end), and how many comparisons remain.
 */
export function standing(
  ids: readonly number[],
  path: readonly Pick<Bout, 'stays'>[],
): { best: number | undefined; next: number | undefined; left: number } {
  return {
    best: path.at(-1)?.stays ?? ids[0],
    next: ids[path.length + 1],
    left: Math.max(0, ids.length - 1 - path.length),
  };
}

/** Begin with the selection, or else the group; false where there is nothing to compare. */
export function beginKnockout(among?: readonly number[]): boolean {
  const { shootId, selection, say, select } = useShoot.getState();
  const ids = among ?? (selection.length > 1 ? selection : groupHere());
  if (ids.length < 2) {
    say(t`A knockout needs two frames: select some, or go to a larger group`);
    return false;
  }
  if (ids.length > MOST_FRAMES) {
    say(t`A knockout is for up to ${MOST_FRAMES} frames; ${ids.length} are selected`);
    return false;
  }
  select([]);
  if (!among) lookAnew();
  useKnockout.setState({ shootId, ids, path: [], won: null, on: true });
  goToBest();
  return true;
}

function goToBest(): void {
  const { ids, path } = useKnockout.getState();
  useShoot.getState().go(standing(ids, path).best);
}

/** One of the two stays; the other one loses. At the end the winner is picked. */
export function stays(which: 'best' | 'next'): void {
  const { ids, path, losers } = useKnockout.getState();
  const { best, next } = standing(ids, path);
  if (best === undefined || next === undefined) return;
  const winner = which === 'best' ? best : next;
  const loser = which === 'best' ? next : best;
  const { marks, byId, say } = useShoot.getState();
  const decide = (id: number, decision: Decision): Decision | null => {
    const before = marks.get(id)?.decision ?? 'undecided';
    if (before === decision) return null;
    markThese([id], { decision });
    return before;
  };
  const lost = losers === 'rejected' ? decide(loser, 'reject') : null;
  const after = [...path, { best, next, stays: winner, lost }];
  const last = standing(ids, after).next === undefined;
  useKnockout.setState({ path: after, won: last ? decide(winner, 'pick') : null });
  useShoot.getState().go(winner);
  const name = byId.get(winner)?.name ?? '';
  say(last ? t`${name} wins, and is picked` : t`${name} stays`);
}

/** Walk back one comparison, with the marks that it made; false where there is none. */
export function walkBack(): boolean {
  const { path, won } = useKnockout.getState();
  const last = path.at(-1);
  if (!last) return false;
  // Said outright: other marks may have been made since.
  if (won) markThese([last.stays], { decision: won });
  if (last.lost)
    markThese([last.stays === last.best ? last.next : last.best], { decision: last.lost });
  useKnockout.setState({ path: path.slice(0, -1), won: null });
  useShoot.getState().go(last.best);
  useShoot.getState().say(t`One comparison back`);
  return true;
}

export function endKnockout(): void {
  useKnockout.setState({ on: false });
}
