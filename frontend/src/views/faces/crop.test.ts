import { expect, test } from 'vitest';

import { face } from '../../testing/face';
import { eyesCrop, faceCrop, partOf } from './crop';

const FACE = face({
  eyes: [
    { x: 0.43, y: 0.48, open: 1, gap: 0.3, blur: 1 },
    { x: 0.47, y: 0.48, open: 1, gap: 0.3, blur: 1 },
  ],
});

test('a crop has the shape of its cell and holds the face', () => {
  for (const shape of [1, 1.6]) {
    const crop = faceCrop(FACE, 1.5, shape);
    expect((crop.width * 1.5) / crop.height).toBeCloseTo(shape);
    expect(crop.left).toBeLessThan(0.4);
    expect(crop.left + crop.width).toBeGreaterThan(0.5);
    expect(crop.top + crop.height).toBeGreaterThan(0.6);
  }
});

test('the eyes are in the middle of theirs', () => {
  const crop = eyesCrop(FACE, 1.5, 2);
  expect(crop.left + crop.width / 2).toBeCloseTo(0.45);
  expect(crop.top + crop.height / 2).toBeCloseTo(0.48);
  expect(crop.left).toBeLessThan(0.43);
  expect(crop.left + crop.width).toBeGreaterThan(0.47);
});

test('parts stay within the picture', () => {
  const size = { width: 3000, height: 2000 };
  expect(partOf({ left: -0.1, top: 0.5, width: 0.2, height: 0.1 }, size)).toEqual({
    left: 0,
    top: 1000,
    width: 300,
    height: 200,
  });
  expect(partOf({ left: 1.1, top: 0, width: 0.1, height: 0.1 }, size)).toBeNull();
});
