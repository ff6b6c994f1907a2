/** What the commands of side by side, the knockout and groups do. */
import { t } from '@lingui/core/macro';

import { api, ask, inWords, WINDOW, type Settings } from '../../api/client';
import type { Stage, View } from '../../commands/stage';
import {
  bringBack,
  carry,
  compareGroup,
  compareHere,
  nudge,
  setAlone,
  shownNow,
  takeOut,
  turnPage,
  unnudge,
  useCompare,
} from '../../state/compare';
import { beginKnockout, stays, walkBack } from '../../state/knockout';
import { loosen } from '../../state/grouping';
import { markThese, settled, takeGroups, targets } from '../../state/marking';
import { neighbourGroup } from '../../state/next-frame';
import { linkHere, withParts } from '../../state/pairs';
import { useShoot } from '../../state/shoot';
import { reload } from '../../state/sync';
import { counted } from '../../texts/numbers';

const NUDGE_PX = 4;

export function sideActs(view: View, show: (view: View) => void, close: number): Stage['side'] {
  return {
    compare: () => {
      if (view === 'side') show('sheet');
      else if (compareHere()) show('side');
    },
    knockout: () => {
      const among = view === 'side' ? shownNow() : undefined;
      if (beginKnockout(among)) show('knockout');
    },
    takeOut,
    bringBack,
    turnPage,
    carry,
    nudge: (x, y) => {
      const { active, say } = useShoot.getState();
      if (!close) say(t`Look close first: only then can a frame be moved by itself`);
      // The picture moves where the arrow points.
      else if (active !== null) nudge(active, { x: -x * NUDGE_PX, y: -y * NUDGE_PX });
    },
    unnudge,
    alone: () => setAlone(!useCompare.getState().alone),
    turnTo: (wanted) => {
      const { way } = useCompare.getState();
      if (shownNow().length < 2) useShoot.getState().say(t`It takes two frames to compare`);
      else useCompare.setState({ way: way === wanted ? 'tiles' : wanted });
    },
    stays,
    walkBack: () => {
      if (!walkBack()) useShoot.getState().say(t`This is where the knockout began`);
    },
  };
}

/** In side by side, the next group is compared. */
export function compareGroupBeside(way: 1 | -1): void {
  const { active, visible, byId, go, say } = useShoot.getState();
  const groupOf = (id: number) => byId.get(id)?.group;
  const next = neighbourGroup(active ?? -1, way, { visible, groupOf, markOf: () => undefined });
  if (next === undefined) {
    say(way === 1 ? t`This is the last group` : t`This is the first group`);
    return;
  }
  go(next);
  compareGroup();
}

const LOOSEN = 0.02;

export function groupActs(
  view: View,
  open: () => void,
  settings: Settings,
  stepGroup: (way: 1 | -1) => void,
): Stage['groups'] {
  return {
    open,
    loosen: (by) => void loosen(by * LOOSEN),
    edit: (what) => void editGroups(what),
    rejectRest: () => rejectRest(),
    onlyThis: (place) => {
      if (place !== undefined) {
        const there = shownNow()[place - 1];
        if (there === undefined) {
          useShoot.getState().say(t`There is no frame at place ${place}`);
          return;
        }
        useShoot.getState().go(there);
      }
      if (keepOnly(view)) stepGroup(1);
    },
    nextUnpicked: () => {
      const { visible, byId, marks, active, go, say } = useShoot.getState();
      const groupOf = (id: number) => byId.get(id)?.group ?? -1;
      const picked = new Set(
        [...marks].flatMap(([id, mark]) => (mark.decision === 'pick' ? [groupOf(id)] : [])),
      );
      const group = groupOf(active ?? -1);
      const open = (id: number) => groupOf(id) !== group && !picked.has(groupOf(id));
      const at = visible.indexOf(active ?? -1);
      const next = visible.slice(at + 1).find(open) ?? visible.find(open);
      if (next === undefined) {
        say(
          picked.has(group) ? t`Every group here has a pick` : t`Every other group here has a pick`,
        );
        return;
      }
      go(next);
      if (view === 'side') compareGroup();
    },
    link: linkHere,
    alike: () => void moreLikeThis(settings),
  };
}

/** Keep the picks of this group and reject what is undecided in it, as one step. */
export function rejectRest(): void {
  const { marks, say } = useShoot.getState();
  const members = wholeGroup();
  const picks = members.filter((id) => marks.get(id)?.decision === 'pick').length;
  const open = members.filter((id) => marks.get(id)?.decision === 'undecided');
  if (!picks) say(t`No frame of this group is picked: pick one first, then reject the rest`);
  else if (!open.length) say(t`No frame of this group is undecided`);
  else markThese(open, { decision: 'reject' });
}

/**
 * Pick the active frame, or the selected ones, and reject the rest: of their groups, or of what is
 * compared.
 */
function keepOnly(view: View): boolean {
  const { active, marks, frames, byId, select, go } = useShoot.getState();
  const keep = view === 'side' ? (active === null ? [] : [active]) : [...targets()];
  if (!keep.length) return false;
  const groups = new Set(keep.map((id) => byId.get(id)?.group));
  const among =
    view === 'side'
      ? useCompare.getState().ids
      : frames.filter((frame) => groups.has(frame.group)).map((frame) => frame.id);
  const kept = new Set(withParts(keep));
  const out = among.filter((id) => !kept.has(id) && marks.get(id)?.decision !== 'reject');
  const what = keep.length === 1 ? (byId.get(keep[0]!)?.name ?? '') : counted(keep.length, 'frame');
  takeGroups([{ keep, out }], t`Only ${what}: ${counted(out.length, 'frame')} rejected`);
  select([]);
  go(keep.at(-1));
  return true;
}

/** All frames of the active one's group, whether they pass the filter or not. */
function wholeGroup(): number[] {
  const { frames, byId, active } = useShoot.getState();
  const group = byId.get(active ?? -1)?.group;
  return frames.filter((frame) => frame.group === group).map((frame) => frame.id);
}

async function editGroups(what: Parameters<Stage['groups']['edit']>[0]): Promise<void> {
  const { shootId, active, selection, frames, byId, say, select, order } = useShoot.getState();
  if (active === null) return;
  if (order !== 'time') {
    say(t`Groups are changed where the sheet is sorted by time`);
    return;
  }
  const chosen = selection.length ? selection : [active];
  const group = byId.get(active)?.group ?? 0;
  const beside = what === 'before' || what === 'after';
  const to = beside
    ? frames.find((frame) => frame.group === group + (what === 'after' ? 1 : -1))?.id
    : undefined;
  if (beside && to === undefined) {
    say(
      what === 'after' ? t`There is no group after this one` : t`There is no group before this one`,
    );
    return;
  }
  const moves = beside || what === 'alone';
  try {
    // Marks that are on their way come first in the history.
    await settled();
    const before = useShoot.getState().undo;
    const change = await ask(
      api.POST('/api/shoots/{shoot}/groups/edit', {
        params: { path: { shoot: shootId } },
        body: {
          do: beside ? 'move' : what,
          frames: moves ? [...chosen] : [active],
          to: to ?? null,
          window: WINDOW,
        },
      }),
    );
    if (!change.sentence) {
      say(what === 'split' ? t`The group begins here already` : t`Nothing to change`);
      return;
    }
    useShoot.setState({ undo: change.undo, redo: change.redo });
    await reload();
    if (moves) select([]);
    if (change.undo !== before) say(change.sentence);
  } catch (error) {
    say(inWords(error), true);
  }
}

/** The frames of the shoot that are most like the active one, in that order; again: back. */
async function moreLikeThis(settings: Settings): Promise<void> {
  const { shootId, active, say, order, sortBy, showAlike, visible } = useShoot.getState();
  if (active === null) return;
  if (order === 'alike' && visible[0] === active) {
    sortBy(settings.sort);
    return;
  }
  try {
    const { ids } = await ask(
      api.GET('/api/shoots/{shoot}/alike/{frame}', {
        params: { path: { shoot: shootId, frame: active } },
      }),
    );
    showAlike(ids);
    say(t`The most like this one come first; Esc goes back`);
  } catch (error) {
    say(inWords(error), true);
  }
}
