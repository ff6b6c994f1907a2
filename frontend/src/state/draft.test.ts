import { describe, expect, it, vi } from 'vitest';

import { api, type Proposal } from '../api/client';
import {
  isOpen,
  keptOf,
  loadDraft,
  nextOpen,
  onStage,
  runnerUp,
  takingOf,
  takingWords,
  toggle,
  useDraft,
  wantOnly,
} from './draft';
import type { Mark } from './frames';
import { NO_FILTER, useShoot } from './shoot';

const proposal = (group: number, frames: number[], more: Partial<Proposal> = {}): Proposal => ({
  group,
  frames,
  keep: frames.slice(0, 1),
  runner_up: frames[1] ?? null,
  sure: false,
  decided: false,
  words: '',
  ...more,
});
const marked = (decisions: Record<number, Mark['decision']>): Map<number, Mark> =>
  new Map(
    Object.entries(decisions).map(([id, decision]) => [
      Number(id),
      { decision, stars: 0, label: null },
    ]),
  );
const FIRST = proposal(0, [1, 2, 3]);
const open = marked({ 1: 'undecided', 2: 'undecided', 3: 'reject' });

describe('a group of the draft', () => {
  it('waits while nothing is picked and something is undecided', () => {
    expect(isOpen(FIRST, open)).toBe(true);
    expect(isOpen(FIRST, marked({ 1: 'pick', 2: 'undecided', 3: 'undecided' }))).toBe(false);
    expect(isOpen(FIRST, marked({ 1: 'reject', 2: 'reject', 3: 'reject' }))).toBe(false);
  });

  it('shows what is to be kept, and the next to it where that is one', () => {
    expect(onStage(FIRST, [1])).toEqual([1, 2]);
    expect(onStage(FIRST, [2])).toEqual([2, 1]);
    expect(onStage(FIRST, [1, 3])).toEqual([1, 3]);
    expect(onStage(proposal(0, [1]), [1])).toEqual([1]);
    expect(onStage(proposal(0, [1, 2], { keep: [], runner_up: null }), [])).toEqual([1]);
    expect(runnerUp(FIRST, [1, 2, 3])).toBeUndefined();
    expect(keptOf(FIRST, new Map([[0, [3]]]))).toEqual([3]);
  });

  it('picks what is kept and rejects what is undecided, or leaves it', () => {
    expect(takingOf(FIRST, [1], 'reject', open)).toEqual({ keep: [1], out: [2] });
    const before = marked({ 1: 'pick', 2: 'undecided', 3: 'reject' });
    expect(takingOf(FIRST, [2], 'reject', before)).toEqual({ keep: [2], out: [1] });
    expect(takingOf(FIRST, [1], 'leave', open)).toEqual({ keep: [1], out: [] });
    const nameOf = (id: number) => `QH_${id}`;
    expect(takingWords({ keep: [1], out: [2] }, nameOf)).toBe('picks QH_1, rejects 1 frame');
    expect(takingWords({ keep: [1, 2], out: [] }, nameOf)).toBe('picks 2 frames');
    expect(takingWords({ keep: [], out: [1, 2] }, nameOf)).toBe('rejects 2 frames');
    expect(takingWords({ keep: [], out: [] }, nameOf)).toBe('changes nothing');
  });
});

describe('what is wanted of the group under the hand', () => {
  it('is one frame alone, or one more, and never one of another group', () => {
    useDraft.setState({ proposals: [FIRST], group: 0, changed: new Map() });
    const kept = () => keptOf(FIRST, useDraft.getState().changed);
    wantOnly(3);
    expect(kept()).toEqual([3]);
    toggle(1);
    expect(kept()).toEqual([3, 1]);
    toggle(3);
    expect(kept()).toEqual([1]);
    wantOnly(9);
    expect(kept()).toEqual([1]);
    useDraft.setState({ proposals: [], group: null, changed: new Map() });
  });
});

describe('the next group', () => {
  const groups = [FIRST, proposal(1, [4], { sure: true }), proposal(2, [5]), proposal(3, [6])];
  const marks = marked({ 1: 'undecided', 4: 'undecided', 5: 'pick', 6: 'undecided' });

  it('is the next one that waits, then from the beginning', () => {
    expect(nextOpen(groups, null, marks, new Set())).toBe(0);
    expect(nextOpen(groups, 1, marks, new Set())).toBe(3);
    expect(nextOpen(groups, 3, marks, new Set())).toBe(0);
    expect(nextOpen([groups[2]!], null, marks, new Set())).toBeNull();
  });

  it('is one that was put off only where no other waits', () => {
    expect(nextOpen(groups, 0, marks, new Set([1]))).toBe(3);
    expect(nextOpen(groups, 0, marks, new Set([1, 3]))).toBe(1);
  });

  it('is a doubtful one first, if that is wanted', () => {
    expect(nextOpen(groups, 0, marks, new Set(), true)).toBe(3);
    expect(nextOpen(groups.slice(1, 2), null, marks, new Set(), true)).toBe(1);
  });
});

it('keeps what is proposed for the group under the hand, also when its number changes', async () => {
  useShoot.getState().open(1, NO_FILTER, null);
  const before = { proposals: [FIRST], group: 0, changed: new Map(), later: new Set<number>() };
  useDraft.setState({ ...before, shootId: 1, path: [], loaded: true });
  // A frame came in before, and the analysis would keep another one now.
  const proposals = [proposal(0, [9]), proposal(1, [2, 1, 3])];
  const data = { proposals, picked: 0, kept: 2, target: null, waits: true, compared: 0, other: 0 };
  vi.spyOn(api, 'GET').mockResolvedValue({ data, response: new Response() } as never);
  await loadDraft();
  const { group, proposals: now } = useDraft.getState();
  expect(group).toBe(1);
  expect(now.find((proposal) => proposal.group === group)?.keep).toEqual([1]);
});
