import { expect, test } from 'vitest';

import type { Proposal } from '../api/client';
import { carried, recalled, remembered } from './review-work';

const proposal = (group: number, frames: number[]): Proposal => ({
  group,
  frames,
  keep: frames.slice(0, 1),
  runner_up: null,
  sure: false,
  decided: false,
  words: '',
});
const BEFORE = [proposal(0, [1, 2]), proposal(1, [3, 4]), proposal(2, [5])];
// A frame came in before them, and two groups became one.
const AFTER = [proposal(0, [9]), proposal(1, [1, 2]), proposal(2, [3, 4, 5])];
const WORK = {
  group: 1,
  changed: new Map([
    [0, [2]],
    [1, [4, 8]],
  ]),
  later: new Set([2]),
  path: [0],
};

test('what was changed and put off goes with its frames when groups get other numbers', () => {
  const now = carried({ ...WORK, proposals: BEFORE }, AFTER);
  expect(now.group).toBe(2);
  expect([...now.changed]).toEqual([
    [1, [2]],
    [2, [4]],
  ]);
  expect([...now.later]).toEqual([2]);
  expect(now.path).toEqual([1]);
  expect(carried({ ...WORK, group: null, proposals: BEFORE }, AFTER).group).toBeNull();
  // A group whose frames are gone is forgotten.
  expect(carried({ ...WORK, proposals: BEFORE }, [proposal(0, [5])]).changed.size).toBe(0);
});

test('the review is found again another time, by frames', () => {
  const stored = remembered({ ...WORK, proposals: BEFORE });
  const now = recalled(AFTER, stored);
  expect(now.group).toBe(2);
  expect([...now.changed]).toEqual([
    [1, [2]],
    [2, [4]],
  ]);
  expect([...now.later]).toEqual([2]);
  for (const broken of [null, '', '{}', '[1]', '{"at":1}'])
    expect(recalled(AFTER, broken)).toMatchObject({ group: null, path: [] });
});
