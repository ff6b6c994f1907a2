import { expect, test } from 'vitest';

import { offers } from './offers';

const used = [
  { value: 'Blue hour', frames: 9 },
  { value: 'quay', frames: 7 },
  { value: 'Hölm', frames: 3 },
  { value: 'hour glass', frames: 1 },
];
const words = (typed: string, there: string[] = []) =>
  offers(typed, used, there).map((offer) => offer.value);

test('words that begin so come before words that hold one', () => {
  expect(words('ho')).toEqual(['Hölm', 'hour glass', 'Blue hour']);
});

test('those that are there already are not offered', () => {
  expect(words('', ['QUAY'])).toEqual(['Blue hour', 'Hölm', 'hour glass']);
});
