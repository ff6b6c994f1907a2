import { expect, it } from 'vitest';

import { allOf, turns } from './sync';

it('takes no answer that a later one has overtaken', () => {
  const ask = turns();
  const [first, second, third] = [ask(), ask(), ask()];
  expect(second()).toBe(true);
  expect(first()).toBe(false);
  expect(third()).toBe(true);
  expect(second()).toBe(false);
});

it('puts an answer together from the last one and what is different', () => {
  const frames = [4, 2, 9, 7].map((id) => ({ id }));
  const answer = {
    ids: null,
    answer: 'b',
    words: '',
    shown: 3,
    total: 4,
    decisions: {},
    stars: [],
    labels: {},
  };
  const together = (before: number[], came: number[], gone: number[]) =>
    allOf({ ...answer, came, gone }, before, frames).ids;
  expect(together([4, 9], [], [])).toEqual([4, 9]);
  expect(together([4, 9], [], [4])).toEqual([9]);
  expect(together([4, 9], [7, 2], [9])).toEqual([4, 2, 7]);
  expect(allOf({ ...answer, ids: [9], came: [], gone: [] }, [4], frames).ids).toEqual([9]);
});
