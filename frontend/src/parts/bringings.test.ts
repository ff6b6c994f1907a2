import { expect, test } from 'vitest';

import { restOf } from './bringings';

test('the rest is told by the pace since it was first seen', () => {
  const first = { at: 1000, copied: 100 };
  expect(restOf(first, 2000, 200, 1000)).toBeNull();
  expect(restOf(first, 11_000, 200, 1000)).toBe(80);
  expect(restOf(first, 11_000, 100, 1000)).toBeNull();
});
