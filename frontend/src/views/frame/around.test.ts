import { expect, test } from 'vitest';

import { around } from './around';

const list = Array.from({ length: 1000 }, (_, n) => n);

test('a short list is shown whole', () => {
  expect(around([1, 2, 3], 2)).toEqual({ part: [1, 2, 3], before: 0, after: 0 });
  expect(around([], -1)).toEqual({ part: [], before: 0, after: 0 });
});

test('of a long one, what is near on both sides is shown', () => {
  for (const at of [0, 23, 24, 500, 999]) {
    const { part, before, after } = around(list, at);
    expect(before + part.length + after).toBe(1000);
    expect(part[0]).toBe(before);
    expect(part.length).toBeLessThanOrEqual(72);
    for (const near of [at - 12, at, at + 12])
      if (near >= 0 && near < 1000) expect(part).toContain(near);
  }
});

test('a step within a block changes nothing', () => {
  expect(around(list, 480)).toEqual(around(list, 503));
});
