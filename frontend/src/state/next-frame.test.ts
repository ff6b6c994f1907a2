import { describe, expect, it } from 'vitest';

import type { Mark } from './frames';
import {
  afterMark,
  between,
  keepPlace,
  neighbourGroup,
  nextUndecided,
  newcomer,
} from './next-frame';

/** Frames 1…6 in groups 1-2, 3-5, 6; those given are picked. */
function sight(picked: number[], visible = [1, 2, 3, 4, 5, 6]) {
  const groups: Record<number, number> = { 1: 0, 2: 0, 3: 1, 4: 1, 5: 1, 6: 2 };
  const markOf = (id: number): Mark => ({
    decision: picked.includes(id) ? 'pick' : 'undecided',
    stars: 0,
    label: null,
  });
  return { visible, markOf, groupOf: (id: number) => groups[id] };
}

describe('after a mark', () => {
  it('stays, or goes to the next, and stays at the end', () => {
    expect(afterMark('stay', 2, sight([]))).toBe(2);
    expect(afterMark('next', 2, sight([]))).toBe(3);
    expect(afterMark('next', 6, sight([]))).toBe(6);
  });

  it('goes to the next undecided one, round the end', () => {
    expect(afterMark('next_undecided', 3, sight([3, 4, 5]))).toBe(6);
    expect(afterMark('next_undecided', 6, sight([1, 3, 4, 5, 6]))).toBe(2);
    expect(afterMark('next_undecided', 6, sight([1, 2, 3, 4, 5, 6]))).toBe(6);
  });

  it('goes to the next group only when this one is decided', () => {
    expect(afterMark('next_group', 4, sight([4]))).toBe(5);
    expect(afterMark('next_group', 5, sight([4, 5]))).toBe(3);
    expect(afterMark('next_group', 4, sight([3, 4, 5]))).toBe(6);
    expect(afterMark('next_group', 6, sight([6]))).toBe(6);
  });
});

describe('moving', () => {
  it('by group goes to its first frame, either way', () => {
    expect(neighbourGroup(4, 1, sight([]))).toBe(6);
    expect(neighbourGroup(6, -1, sight([]))).toBe(3);
    expect(neighbourGroup(6, 1, sight([]))).toBeUndefined();
    expect(neighbourGroup(1, -1, sight([]))).toBeUndefined();
  });

  it('to the next undecided skips the active one', () => {
    expect(nextUndecided(5, sight([6], [1, 5, 6]))).toBe(1);
    expect(nextUndecided(5, sight([1, 6], [1, 5, 6]))).toBeUndefined();
  });
});

describe('the place', () => {
  it.each([
    [3, [1, 2, 3], [1, 3], 3],
    [2, [1, 2, 3], [1, 3], 3],
    [3, [1, 2, 3], [1, 2], 2],
    [9, [1, 2], [1, 2], 1],
    [null, [], [4, 5], 4],
    [2, [1, 2], [], null],
  ])('of %s in %o, when %o remain, is %s', (active, before, after, place) => {
    expect(keepPlace(active, before, after)).toBe(place);
  });

  it('a range goes in the direction in which it was drawn', () => {
    expect(between([1, 2, 3, 4], 2, 4)).toEqual([2, 3, 4]);
    expect(between([1, 2, 3, 4], 4, 2)).toEqual([4, 3, 2]);
    expect(between([1, 2], 9, 2)).toEqual([2]);
  });
});

it('a newcomer is a last frame that was not there before', () => {
  expect(newcomer([1, 2], [1, 2, 3])).toBe(3);
  expect(newcomer([1, 2], [3, 1, 2])).toBeUndefined();
  expect(newcomer([], [1])).toBeUndefined();
});
