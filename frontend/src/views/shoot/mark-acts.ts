/** What marking, undo and redo do in each view. */
import { t } from '@lingui/core/macro';

import type { Label, Settings } from '../../api/client';
import type { MarkActs, View } from '../../commands/stage';
import { shownNow } from '../../state/compare';
import { walkHere } from '../../state/draft';
import { standing, useKnockout, walkBack } from '../../state/knockout';
import { mark, walk } from '../../state/marking';
import { useShoot } from '../../state/shoot';
import { walkToNumber } from '../../state/to-number';
import { AFTER_ORDER, AFTER_WORDS } from './bottom-line';
import { seenInSheet } from './moving-acts';

/** `change`: the settings as they are at the moment, changed and kept. */
export function markActs(
  view: View,
  settings: Settings,
  labels: readonly Label[],
  change: (how: (now: Settings) => Settings) => void,
): MarkActs {
  return {
    mark: (edit, turned) =>
      mark(edit, settings, labels, { among: amongFor(view), turned, folded: foldedHere(view) }),
    walk: (way) => {
      if (view === 'review') walkHere(way);
      else if (view === 'number') walkToNumber(way);
      // In a knockout the last comparison is what is undone.
      else if (view !== 'knockout' || way !== 'undo' || !walkBack())
        walk(way, false, undefined, view === 'sheet' || view === 'frame');
    },
    cycleAfter: (what) =>
      change((now) => {
        const present = now.after[what === 'grade' ? 'stars' : 'decision'];
        const next = AFTER_ORDER[(AFTER_ORDER.indexOf(present) + 1) % AFTER_ORDER.length]!;
        const words = AFTER_WORDS[next];
        const said =
          what === 'grade' ? t`After stars or a label: ${words}` : t`After a decision: ${words}`;
        useShoot.getState().say(said);
        const changed = what === 'grade' ? { stars: next, label: next } : { decision: next };
        return { ...now, after: { ...now.after, ...changed } };
      }),
  };
}

/** The frames that a mark may move on to, where those are not all that pass the filter. */
function amongFor(view: View): readonly number[] | undefined {
  if (view === 'side') return shownNow();
  if (view === 'sheet' && useShoot.getState().folded.size) return seenInSheet();
  if (view !== 'knockout') return undefined;
  const { ids, path } = useKnockout.getState();
  const { best } = standing(ids, path);
  return best === undefined ? [] : [best];
}

/** How many frames the active one's group has, where the sheet shows only that one of it; else 0. */
function foldedHere(view: View): number {
  const { folded, active, byId, visible, order } = useShoot.getState();
  const group = byId.get(active ?? -1)?.group;
  if (view !== 'sheet' || order !== 'time' || group === undefined || !folded.has(group)) return 0;
  return visible.filter((id) => byId.get(id)?.group === group).length;
}
