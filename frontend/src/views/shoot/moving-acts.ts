import { t } from '@lingui/core/macro';
/** The commands that move the active frame and the selection. */
import type { View } from '../../commands/stage';
import { shownNow } from '../../state/compare';
import { useHints, worseThan } from '../../state/hints';
import { neighbourGroup, nextUndecided } from '../../state/next-frame';
import { unfolded } from '../../state/orders';
import { useShoot } from '../../state/shoot';
import { inNextRow } from '../sheet/layout';
import { sheetRows } from '../sheet/sheet';
import { stageTiles } from '../side/stage';
import { inRow } from '../side/tiles';
import { compareGroupBeside } from './side-acts';

/** The frames that pass the filter, without what folded groups hide. */
export function seenInSheet(): readonly number[] {
  const { visible, marks, byId, active, folded, order } = useShoot.getState();
  if (order !== 'time') return visible;
  return unfolded(visible, folded, active, byId, marks, worseThan(useHints.getState().placeOf));
}

export function moves(view: View) {
  const sight = () => {
    const { visible, marks, byId, active } = useShoot.getState();
    return {
      visible: view === 'sheet' ? seenInSheet() : view === 'side' ? shownNow() : visible,
      active: active ?? -1,
      markOf: (id: number) => marks.get(id),
      groupOf: (id: number) => byId.get(id)?.group,
    };
  };
  const go = (id: number | null | undefined) => useShoot.getState().go(id);
  const step = (way: 1 | -1) => {
    const { visible, active } = sight();
    go(visible[visible.indexOf(active) + way]);
  };
  const stepGroup = (way: 1 | -1) => {
    if (view === 'side') {
      compareGroupBeside(way);
      return;
    }
    const seen = sight();
    go(neighbourGroup(seen.active, way, seen));
  };
  return {
    step,
    stepGroup,
    stepRow: (way: 1 | -1) => {
      if (view === 'sheet') go(inNextRow(sheetRows.current, sight().active, way));
      else if (view === 'side') {
        const { ids, boxes } = stageTiles.current;
        go(ids[inRow(boxes, ids.indexOf(sight().active), way) ?? -1]);
      } else stepGroup(way);
    },
    end: (way: 1 | -1) => go(sight().visible.at(way === 1 ? -1 : 0)),
    nextUndecided: () => {
      const seen = sight();
      const next = nextUndecided(seen.active, seen);
      if (next === undefined)
        useShoot
          .getState()
          .say(
            view === 'side' ? t`No other frame here is undecided` : t`No other frame is undecided`,
          );
      else go(next);
    },
    selectGroup: () => {
      const { visible, byId, active, select } = useShoot.getState();
      const group = byId.get(active ?? -1)?.group;
      select(visible.filter((id) => byId.get(id)?.group === group));
    },
    selectAll: () => useShoot.getState().select(useShoot.getState().visible),
    extend: (way: 1 | -1) => {
      const { visible, active } = sight();
      const next = visible[visible.indexOf(active) + way];
      if (next !== undefined) useShoot.getState().choose(next, 'range');
    },
  };
}
