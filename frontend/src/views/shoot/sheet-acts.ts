/** What the sheet's commands do: size, order, folding. */
import { t } from '@lingui/core/macro';

import type { Settings } from '../../api/client';
import type { SheetActs } from '../../commands/stage';
import { useShoot } from '../../state/shoot';

const LEAST_PX = 80;
const MOST_PX = 480;
const STEP_PX = 20;

export function sheetActs(settings: Settings, save: (settings: Settings) => void): SheetActs {
  return {
    resize: (by) => {
      const height = settings.row_height + STEP_PX * by;
      save({ ...settings, row_height: Math.min(MOST_PX, Math.max(LEAST_PX, height)) });
    },
    toggleNames: () => save({ ...settings, names_shown: !settings.names_shown }),
    foldGroup: () => {
      const { byId, active } = useShoot.getState();
      const group = byId.get(active ?? -1)?.group;
      if (canFold() && group !== undefined) flipFold(group);
    },
    foldAll: () => {
      if (!canFold()) return;
      const { frames, folded, fold, say } = useShoot.getState();
      fold(folded.size ? new Set() : new Set(frames.map((frame) => frame.group)));
      say(folded.size ? t`All groups unfolded` : t`Every group shows its best frame`);
    },
    sortBy: (sort) => save({ ...settings, sort }),
  };
}

/** Fold a group to its best frame, or unfold it. */
export function flipFold(group: number): void {
  const { folded, fold } = useShoot.getState();
  const next = new Set(folded);
  if (!next.delete(group)) next.add(group);
  fold(next);
}

function canFold(): boolean {
  const { order, say } = useShoot.getState();
  if (order !== 'time') say(t`Groups can be folded when the sheet is sorted by time`);
  return order === 'time';
}
