import { expect, test } from 'vitest';

import { shareMoved, tileSize } from './sizes';

test('tiles fill the width that there is, while a row fits', () => {
  const { width, height } = tileSize('faces', 4, { width: 1240, height: 600 });
  expect(width).toBe(300);
  expect(height).toBe(Math.round(300 / 0.95));
  expect(tileSize('eyes', 5, { width: 1240, height: 400 }).width).toBeGreaterThanOrEqual(220);
});

test('one row is never higher than the panel, nor a tile too small to see anything', () => {
  expect(tileSize('faces', 2, { width: 1240, height: 240 }).height).toBeLessThanOrEqual(200);
  expect(tileSize('faces', 12, { width: 600, height: 240 }).width).toBe(96);
  expect(tileSize('eyes', 12, { width: 600, height: 240 }).width).toBe(140);
});

test('the edge follows the hand, within what leaves room for the photographs', () => {
  expect(shareMoved(0.4, 80, 800)).toBe(0.5);
  expect(shareMoved(0.4, 800, 800)).toBe(0.8);
  expect(shareMoved(0.4, -800, 800)).toBe(0.15);
});
