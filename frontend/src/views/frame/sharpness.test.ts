import { expect, test } from 'vitest';

import { filled, together } from './sharpness';

test('a square is the smaller the more blurred its tile is', () => {
  expect(filled(0.3)).toBe(1);
  expect(filled(1)).toBeCloseTo(0.63, 2);
  expect(filled(4)).toBeLessThan(0.25);
});

test('tiles put together keep the sharpest', () => {
  const map = { rows: 2, columns: 3, tile: 64, blur: [3, null, 2, 1, null, null] };
  expect(together(map, 1)).toBe(map);
  expect(together(map, 2)).toEqual({ rows: 1, columns: 2, tile: 128, blur: [1, 2] });
});
