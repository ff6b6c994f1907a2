/**
 * The review of the draft: which group is on the stage, what would be kept of it, and what was put
 * off.
 */
import { plural, t } from '@lingui/core/macro';
import { create } from 'zustand';

import { api, ask, inWords, type Draft, type Proposal } from '../api/client';
import { putOnStage } from './compare';
import type { Mark } from './frames';
import { carried, recalled, remembered, type Work } from './review-work';
import { takeGroups, walk } from './marking';
import { noteSeen } from './seen';
import { withParts } from './pairs';
import { throttled } from './sync';
import { useShoot } from './shoot';

export type Rest = 'reject' | 'leave';

interface DraftState extends Work {
  shootId: number;
  proposals: readonly Proposal[];
  target: number | null;
  /** some of what it is made from is still being made */
  waits: boolean;
  /** what becomes of the frames of a group that are not kept */
  rest: Rest;
  /** groups whose proposal is not sure come first */
  doubtful: boolean;
  loaded: boolean;
  /** in how many of so many groups with a pick none of the best frames is picked */
  compared: number;
  other: number;
}

const FRESH = {
  proposals: [] as readonly Proposal[],
  target: null as number | null,
  waits: false,
  group: null as number | null,
  changed: new Map<number, readonly number[]>(),
  later: new Set<number>(),
  path: [] as readonly number[],
  loaded: false,
  compared: 0,
  other: 0,
};

export const useDraft = create<DraftState>()(() => ({
  shootId: 0,
  ...FRESH,
  rest: 'reject',
  doubtful: false,
}));

type Marks = ReadonlyMap<number, Mark>;

/** Whether a group waits for the person: nothing is picked in it, and something is undecided. */
export function isOpen(proposal: Proposal, marks: Marks): boolean {
  const decisions = proposal.frames.map((id) => marks.get(id)?.decision);
  return !decisions.includes('pick') && decisions.includes('undecided');
}

/** What is to be kept of a group, as proposed or as the person changed it. */
export function keptOf(proposal: Proposal, changed: DraftState['changed']): readonly number[] {
  return changed.get(proposal.group) ?? proposal.keep;
}

/** The frames on the stage: those to keep, and where that is one, the next to it. */
export function onStage(proposal: Proposal, keep: readonly number[]): number[] {
  if (keep.length > 1) return [...keep];
  const next = runnerUp(proposal, keep);
  return [...keep, ...(next === undefined ? [] : [next])];
}

/** The next best frame beside those that are kept. */
export function runnerUp(proposal: Proposal, keep: readonly number[]): number | undefined {
  if (proposal.runner_up !== null && !keep.includes(proposal.runner_up)) return proposal.runner_up;
  return proposal.frames.find((id) => !keep.includes(id));
}

/** What taking a group would do. */
export function takingOf(
  proposal: Proposal,
  keep: readonly number[],
  rest: Rest,
  marks: Marks,
): { keep: number[]; out: number[] } {
  const out =
    rest === 'leave'
      ? []
      : proposal.frames.filter(
          // What was picked here before, and is no longer wanted, goes with the rest.
          (id) => !keep.includes(id) && marks.get(id)?.decision !== 'reject',
        );
  return { keep: [...keep], out };
}

/**
 * The next group that waits, after one; those that were put off come last. `doubtful`: those that
 * are not sure come first.
 */
export function nextOpen(
  proposals: readonly Proposal[],
  after: number | null,
  marks: Marks,
  later: ReadonlySet<number>,
  doubtful = false,
): number | null {
  const open = proposals.filter((proposal) => isOpen(proposal, marks) && proposal.group !== after);
  const fresh = open.filter((proposal) => !later.has(proposal.group));
  const doubted = doubtful ? fresh.filter((proposal) => !proposal.sure) : [];
  const first = (those: readonly Proposal[]) =>
    those.find((proposal) => after === null || proposal.group > after) ?? those[0];
  return (first(doubted) ?? first(fresh) ?? first(open))?.group ?? null;
}

/** "picks QH2_0104, rejects 3 frames" */
export function takingWords(
  { keep, out }: { keep: readonly number[]; out: readonly number[] },
  nameOf: (id: number) => string,
): string {
  const picks =
    keep.length === 1
      ? nameOf(keep[0]!)
      : plural(keep.length, { one: '# frame', other: '# frames' });
  const rejects = plural(out.length, { one: '# frame', other: '# frames' });
  if (!keep.length) return out.length ? t`rejects ${rejects}` : t`changes nothing`;
  return out.length ? t`picks ${picks}, rejects ${rejects}` : t`picks ${picks}`;
}

function current(): Proposal | undefined {
  const { proposals, group } = useDraft.getState();
  return proposals.find((proposal) => proposal.group === group);
}

/** Ask for the draft; the group under the person's hand, and what they changed, stay. */
export async function loadDraft(): Promise<void> {
  const { shootId } = useShoot.getState();
  if (useDraft.getState().shootId !== shootId) useDraft.setState({ shootId, ...FRESH });
  let made: Draft;
  try {
    made = await ask(
      api.GET('/api/shoots/{shoot}/draft', { params: { path: { shoot: shootId } } }),
    );
  } catch (error) {
    useShoot.getState().say(inWords(error), true);
    return;
  }
  if (useShoot.getState().shootId !== shootId) return;
  const here = current();
  // Known by its frames: its number may be another one now.
  const proposals = made.proposals.map((proposal) =>
    here && alike(proposal.frames, here.frames) ? { ...here, group: proposal.group } : proposal,
  );
  const { marks } = useShoot.getState();
  useDraft.setState((state) => {
    const work = state.loaded
      ? carried(state, proposals)
      : recalled(proposals, localStorage.getItem(workKey(shootId)));
    return {
      ...work,
      proposals,
      target: made.target,
      waits: made.waits,
      compared: made.compared,
      other: made.other,
      loaded: true,
      group: work.group ?? nextOpen(proposals, null, marks, work.later, state.doubtful),
    };
  });
  stand(!here);
}

const workKey = (shootId: number) => `winnow.review.${shootId}`;

useDraft.subscribe((now, before) => {
  if (!now.loaded || now.shootId !== before.shootId) return;
  if (now.group === before.group && now.changed === before.changed && now.later === before.later)
    return;
  localStorage.setItem(workKey(now.shootId), remembered(now));
});

export const loadDraftSoon = throttled(() => void loadDraft(), 1000);

function alike(one: readonly number[], other: readonly number[]): boolean {
  return one.length === other.length && one.every((id) => other.includes(id));
}

/** Put the group on the stage; `anew`: it is another one. */
function stand(anew: boolean): void {
  const proposal = current();
  if (!proposal) return;
  const keep = keptOf(proposal, useDraft.getState().changed);
  const shown = onStage(proposal, keep);
  putOnStage(shown, anew);
  const { active, go } = useShoot.getState();
  if (anew || active === null || !shown.includes(active)) go(shown[0]);
}

function goTo(group: number | null, remember = true): void {
  useDraft.setState((state) => ({
    group,
    path: remember && state.group !== null ? [...state.path, state.group] : state.path,
  }));
  stand(true);
}

function goOn(): void {
  const { proposals, group, later, doubtful } = useDraft.getState();
  goTo(nextOpen(proposals, group, useShoot.getState().marks, later, doubtful));
}

/** Keep what is proposed, or `keep`, and go on to the next group that waits. */
export function take(keep?: readonly number[]): void {
  const proposal = current();
  if (!proposal) return;
  const { changed, rest } = useDraft.getState();
  const { marks, say } = useShoot.getState();
  const wanted = keep ?? keptOf(proposal, changed);
  if (!wanted.length && keep === undefined) {
    say(t`Nothing is proposed here: choose a frame, or take none of this group`);
    return;
  }
  const taking = takingOf(proposal, withParts(wanted), keep?.length === 0 ? 'reject' : rest, marks);
  takeGroups([taking], t`Group ${proposal.group + 1} is taken`, true);
  // All of the group stood on the screen.
  noteSeen(proposal.frames);
  goOn();
}

/** Take all proposals of which nobody doubts that they are right, as one step. */
export function takeSure(): void {
  const { proposals, changed, rest } = useDraft.getState();
  const { marks, say } = useShoot.getState();
  const sure = proposals.filter(
    (proposal) => proposal.sure && isOpen(proposal, marks) && !changed.has(proposal.group),
  );
  if (!sure.length) {
    say(t`No proposal that waits is sure`);
    return;
  }
  const groups = sure.map((proposal) => takingOf(proposal, withParts(proposal.keep), rest, marks));
  const words = plural(sure.length, { one: '# sure group taken', other: '# sure groups taken' });
  takeGroups(groups, words, true);
  const here = current();
  if (here && sure.includes(here)) goOn();
}

/** Want these frames of the group kept instead. */
export function want(keep: readonly number[]): void {
  const proposal = current();
  if (!proposal) return;
  useDraft.setState(({ changed }) => ({ changed: new Map(changed).set(proposal.group, keep) }));
  stand(false);
  if (keep.length) useShoot.getState().go(keep[0]);
}

/** Move the proposal to the next best frame of the group, or the one before. */
export function wantNext(way: 1 | -1): void {
  const proposal = current();
  if (!proposal) return;
  const { frames } = proposal;
  const keep = keptOf(proposal, useDraft.getState().changed);
  const at = keep.length ? frames.indexOf(keep[0]!) : way === 1 ? -1 : 0;
  want([frames[(at + way + frames.length) % frames.length]!]);
}

/** Keep the frame beside the proposal, too, or no longer. */
export function wantBoth(): void {
  const proposal = current();
  if (!proposal) return;
  const keep = keptOf(proposal, useDraft.getState().changed);
  const next = runnerUp(proposal, keep);
  if (keep.length > 1) want(keep.slice(0, -1));
  else if (next === undefined) useShoot.getState().say(t`This group is one frame`);
  else want([...keep, next]);
}

/** Want a frame kept, or no longer. */
export function toggle(id: number): void {
  const proposal = current();
  if (!proposal) return;
  const keep = keptOf(proposal, useDraft.getState().changed);
  want(keep.includes(id) ? keep.filter((other) => other !== id) : [...keep, id]);
}

/** Want this frame kept alone. */
export function wantOnly(id: number): void {
  if (current()?.frames.includes(id)) want([id]);
}

/** Leave the group for later, and go on. */
export function putOff(): void {
  const { group } = useDraft.getState();
  if (group === null) return;
  useDraft.setState(({ later }) => ({ later: new Set(later).add(group) }));
  goOn();
}

/** Back to the group that was on the stage before. */
export function stepBack(): void {
  const { path } = useDraft.getState();
  const last = path.at(-1);
  if (last === undefined) {
    useShoot.getState().say(t`This is where the review began`);
    return;
  }
  useDraft.setState({ path: path.slice(0, -1) });
  goTo(last, false);
}

/** Undo or redo one step; the group that it changed comes back on the stage. */
export function walkHere(way: 'undo' | 'redo'): void {
  walk(way, false, ({ marks }) => reviewGroupOf(marks[0]?.frame ?? null, false));
}

/** To a group, by one of its frames. */
export function reviewGroupOf(id: number | null, remember = true): void {
  const group = useShoot.getState().byId.get(id ?? -1)?.group;
  if (
    group !== undefined &&
    useDraft.getState().proposals.some((proposal) => proposal.group === group)
  )
    goTo(group, remember);
}
