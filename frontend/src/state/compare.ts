/** Frames side by side: which, which part of the subject they show, and how each one lies. */
import { t } from '@lingui/core/macro';
import { create } from 'zustand';
import { createJSONStorage, persist } from 'zustand/middleware';

import { api, ask, inWords, type Beside } from '../api/client';
import type { Mark } from './frames';
import { keepPlace } from './next-frame';
import { useShoot } from './shoot';

/** How many frames may stand side by side, as the person chooses. */
export const TILE_COUNTS = [2, 4, 6, 9, 12] as const;

export interface Offset {
  /** px at 100 %, as the frame lies on screen */
  x: number;
  y: number;
}

export const NO_OFFSET: Offset = { x: 0, y: 0 };

/** tiles: each frame in its own place. blink, difference: two of them in one place. */
export type Way = 'tiles' | 'blink' | 'difference';

export interface Look {
  frame: number;
  /** 0…1 of the upright picture; null: the point that matters, which the server chooses */
  x: number | null;
  y: number | null;
}

export interface CompareState {
  shootId: number;
  /** all frames of the set, in order */
  ids: readonly number[];
  /** those that were taken out, the last one last */
  out: readonly number[];
  page: number;
  /** a frame that stands on every page */
  carried: number | null;
  look: Look | null;
  /** whether the person chose that, not the server */
  chosen: boolean;
  places: ReadonlyMap<number, Beside>;
  /** whether the places are exact, from the pictures at full size */
  fine: boolean;
  /** how far all were dragged since they were last locked */
  shift: Offset;
  nudges: ReadonlyMap<number, Offset>;
  /** how much closer, or less close, a frame is looked at than the others: a factor */
  zooms: ReadonlyMap<number, number>;
  /** whether moving and zooming is for one frame alone */
  alone: boolean;
  /** how many frames stand on a page at most */
  most: number;
  way: Way;
  /** the frame that blinks with the active one */
  against: number | null;
  /** ms that each of two blinking frames stays */
  rate: number;
  /** whether a frame that is rejected here leaves at once */
  rejectsLeave: boolean;
}

const FRESH = {
  out: [],
  page: 0,
  carried: null,
  look: null,
  chosen: false,
  places: new Map<number, Beside>(),
  fine: false,
  shift: NO_OFFSET,
  nudges: new Map<number, Offset>(),
  zooms: new Map<number, number>(),
  alone: false,
  way: 'tiles' as Way,
  against: null,
};

export const useCompare = create<CompareState>()(
  persist(
    (): CompareState => ({
      shootId: 0, ids: [], ...FRESH, most: 12, rate: 500, rejectsLeave: true,
    }), // prettier-ignore
    {
      // A reload of the page goes on where it was.
      name: 'winnow.compare',
      storage: createJSONStorage(() => sessionStorage),
      partialize: ({ shootId, ids, out, page, carried, rate, rejectsLeave }) => ({
        shootId,
        ids,
        out,
        page,
        carried,
        rate,
        rejectsLeave,
      }),
    },
  ),
);

type Marks = ReadonlyMap<number, Mark>;

/** The frames of the set that are still in: not taken out, nor rejected where rejects leave. */
export function remaining(
  { ids, out, rejectsLeave }: Pick<CompareState, 'ids' | 'out' | 'rejectsLeave'>,
  marks: Marks,
): number[] {
  const gone = new Set(out);
  return ids.filter(
    (id) => !gone.has(id) && !(rejectsLeave && marks.get(id)?.decision === 'reject'),
  );
}

/** In pages of so many at most; a carried frame stands first on each. */
export function pages(
  frames: readonly number[],
  carried: number | null,
  most = useCompare.getState().most,
): number[][] {
  const first = carried !== null && frames.includes(carried) && frames.length > most;
  const rest = first ? frames.filter((id) => id !== carried) : frames;
  const each = first ? most - 1 : most;
  const count = Math.max(1, Math.ceil(rest.length / each));
  // Pages of nearly one size: a last page of one frame would compare nothing.
  const begins = (page: number) => Math.floor((page * rest.length) / count);
  return Array.from({ length: count }, (_, n) => [
    ...(first ? [carried] : []),
    ...rest.slice(begins(n), begins(n + 1)),
  ]);
}

/** What is looked at begins anew: a point of other frames says nothing here. */
export function lookAnew(): void {
  const { look, chosen, places, fine, shift, nudges, zooms } = FRESH;
  useCompare.setState({ look, chosen, places, fine, shift, nudges, zooms });
}

/**
 * Put these frames on the stage, to be looked at by the same part; `anew`: at the one that matters.
 */
export function putOnStage(ids: readonly number[], anew: boolean): void {
  const { shootId } = useShoot.getState();
  const { look, chosen, places, ...fresh } = FRESH;
  useCompare.setState({ shootId, ids, ...fresh, ...(anew ? { look, chosen, places } : {}) });
}

/** The frames on the stage now. */
export function shownNow(): number[] {
  const state = useCompare.getState();
  const all = pages(remaining(state, useShoot.getState().marks), state.carried);
  return all[Math.min(state.page, all.length - 1)]!;
}

/** Compare these frames; false where there is nothing to compare. */
function compare(ids: readonly number[]): void {
  const { shootId, active, go, select } = useShoot.getState();
  useCompare.setState({ shootId, ids, ...FRESH });
  // Marks are for the active one here, not for all of them.
  select([]);
  if (active === null || !ids.includes(active)) go(ids[0]);
}

/** Compare the selection, or else the group of the active frame; false where that is one frame. */
export function compareHere(): boolean {
  const { selection, say } = useShoot.getState();
  const ids = selection.length > 1 ? selection : groupHere();
  if (ids.length < 2) {
    say(t`This group is one frame: select the frames to compare, or go to another group`);
    return false;
  }
  compare(ids);
  return true;
}

/** Those frames of the active one's group that pass the filter. */
export function groupHere(): readonly number[] {
  const { visible, byId, active } = useShoot.getState();
  const group = byId.get(active ?? -1)?.group;
  return visible.filter((id) => byId.get(id)?.group === group);
}

/** Compare the group of the active frame, whatever its size. */
export function compareGroup(): void {
  compare(groupHere());
}

/** Whether there is a set of this shoot to go on with. */
export function hasSet(shootId: number): boolean {
  const { byId } = useShoot.getState();
  const state = useCompare.getState();
  return state.shootId === shootId && state.ids.length > 1 && state.ids.every((id) => byId.has(id));
}

/** Take the active frame out of view; another one becomes the active one. */
export function takeOut(): void {
  const { active, go, say } = useShoot.getState();
  const before = shownNow();
  if (active === null || !before.includes(active)) return;
  if (before.length < 2) {
    say(t`This is the last one here`);
    return;
  }
  useCompare.setState(({ out }) => ({ out: [...out, active] }));
  go(keepPlace(active, before, shownNow()));
}

/** Bring the frame back that was taken out last. */
export function bringBack(): void {
  const { out } = useCompare.getState();
  const last = out.at(-1);
  if (last === undefined) {
    useShoot.getState().say(t`No frame was taken out`);
    return;
  }
  useCompare.setState({ out: out.slice(0, -1) });
  goTo(last);
}

/** Bring in a frame from beside the stage, in the place of the active one. */
export function swapIn(id: number): void {
  const { active } = useShoot.getState();
  const { ids, out } = useCompare.getState();
  const shown = shownNow();
  if (shown.includes(id)) return;
  const others = ids.filter((other) => other !== id);
  const at = active === null ? -1 : others.indexOf(active);
  const leaves = active !== null && shown.includes(active) && shown.length >= 2;
  useCompare.setState({
    ids: at < 0 ? [...others, id] : [...others.slice(0, at), id, ...others.slice(at)],
    out: [...out.filter((other) => other !== id), ...(leaves ? [active] : [])],
    // Rejected frames are there to be looked at, if they are asked for.
    ...(useShoot.getState().marks.get(id)?.decision === 'reject' ? { rejectsLeave: false } : {}),
  });
  goTo(id);
}

/** Make a frame of the set the active one, on its page. */
export function goTo(id: number): void {
  const state = useCompare.getState();
  const all = pages(remaining(state, useShoot.getState().marks), state.carried);
  const page = all.findIndex((part) => part.includes(id));
  if (page >= 0 && !all[Math.min(state.page, all.length - 1)]!.includes(id))
    useCompare.setState({ page });
  useShoot.getState().go(id);
}

/** Go to the next page of frames, or the one before. */
export function turnPage(way: 1 | -1): void {
  const state = useCompare.getState();
  const { marks, active, go, say } = useShoot.getState();
  const all = pages(remaining(state, marks), state.carried);
  const page = Math.min(state.page, all.length - 1) + way;
  if (!all[page]) {
    say(way === 1 ? t`This is the last page` : t`This is the first page`);
    return;
  }
  useCompare.setState({ page });
  if (active === null || !all[page].includes(active))
    go(all[page].find((id) => id !== state.carried));
}

/** Carry the active frame along to every page, or no longer. */
export function carry(): void {
  const { active, say } = useShoot.getState();
  const { carried } = useCompare.getState();
  const next = carried === active ? null : active;
  useCompare.setState({ carried: next });
  say(next === null ? t`No frame is carried along any more` : t`Carried along to every page`);
  if (active !== null) goTo(active);
}

/** Show all of them at a point of one; null: at the point that matters. */
export function lookAt(look: Look): void {
  useCompare.setState({ look, chosen: true });
  void lock();
}

/** What is said of the frames may have changed: they are asked again, at the part that matters now. */
export function lockAgain(): void {
  const { chosen, fine } = useCompare.getState();
  if (!chosen) useCompare.setState({ look: null });
  void lock(fine);
}

let asked = 0;

/**
 * Ask where the frames on stage show the part that is looked at; the answer to the last question
 * counts.
 */
export async function lock(fine = false): Promise<void> {
  const { shootId, active } = useShoot.getState();
  const shown = shownNow();
  const { look, against } = useCompare.getState();
  const first = active !== null && shown.includes(active) ? active : shown[0];
  if (first === undefined) return;
  const reference = look ?? { frame: first, x: null, y: null };
  asked += 1;
  const number = asked;
  const wanted = [...new Set([...shown, ...(against === null ? [] : [against])])];
  try {
    const answer = await ask(
      api.POST('/api/shoots/{shoot}/beside', {
        params: { path: { shoot: shootId } },
        body: {
          frame: reference.frame,
          x: reference.x,
          y: reference.y,
          frames: wanted,
          fine,
          prepare: true,
        },
      }),
    );
    if (number !== asked || useShoot.getState().shootId !== shootId) return;
    // What is being dragged must not jump back.
    const { shift } = useCompare.getState();
    if (fine && (shift.x || shift.y)) return;
    const at = answer[0]!;
    useCompare.setState({
      look: { frame: at.frame, x: at.x, y: at.y },
      places: new Map(answer.map((answered) => [answered.frame, answered])),
      fine,
      shift: NO_OFFSET,
    });
  } catch (error) {
    if (number === asked) useShoot.getState().say(inWords(error), true);
  }
}

/** Move one frame by itself, in px at 100 %; it keeps that. */
export function nudge(id: number, by: Offset): void {
  useCompare.setState(({ nudges }) => {
    const before = nudges.get(id) ?? NO_OFFSET;
    return { nudges: new Map(nudges).set(id, { x: before.x + by.x, y: before.y + by.y }) };
  });
}

/** Look closer at one frame by itself, or less close; it keeps that. */
export function zoomAlone(id: number, by: number): void {
  useCompare.setState(({ zooms }) => ({
    zooms: new Map(zooms).set(id, Math.min(8, Math.max(1 / 8, (zooms.get(id) ?? 1) * by))),
  }));
}

/** Whether moving and zooming is for the frame under the pointer alone, or for all together. */
export function setAlone(alone: boolean): void {
  useCompare.setState({ alone });
  useShoot
    .getState()
    .say(alone ? t`Moving and zooming is for one frame alone` : t`All move and zoom together`);
}

/** Take every nudge back, and every zoom of one frame alone. */
export function unnudge(): void {
  useCompare.setState({ nudges: new Map(), zooms: new Map() });
  useShoot.getState().say(t`Every frame lies where it was found`);
}
