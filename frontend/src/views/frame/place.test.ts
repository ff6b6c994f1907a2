import { describe, expect, it } from 'vitest';

import { close, fitted, pointAt, turnedPoint, uprightPoint } from './place';

const stage = { width: 1000, height: 700 };

describe('the place of the picture', () => {
  it('fits and is centred', () => {
    expect(fitted(stage, { width: 3000, height: 2000 }, 1)).toEqual({
      left: 0,
      top: (700 - 2000 / 3) / 2,
      width: 1000,
      height: 2000 / 3,
    });
  });

  it('is never larger than 100 %', () => {
    expect(fitted(stage, { width: 300, height: 200 }, 1).width).toBe(300);
    expect(fitted(stage, { width: 300, height: 200 }, 2).width).toBe(150);
  });

  it('shows the point in the middle at 100 %, but no gap at the edges', () => {
    const picture = { width: 3000, height: 2000 };
    expect(close(stage, picture, { x: 0.5, y: 0.5 }, 1)).toMatchObject({ left: -1000, top: -650 });
    expect(close(stage, picture, { x: 0, y: 1 }, 1)).toMatchObject({ left: 0, top: -1300 });
    expect(close(stage, picture, { x: 0.5, y: 0.5 }, 2).width).toBe(1500);
  });

  it('centres a small picture', () => {
    expect(close(stage, { width: 200, height: 100 }, { x: 0, y: 0 }, 1)).toMatchObject({
      left: 400,
      top: 300,
    });
  });

  it('finds the point under the pointer', () => {
    const box = fitted(stage, { width: 3000, height: 2000 }, 1);
    expect(pointAt(box, 500, 350)).toEqual({ x: 0.5, y: 0.5 });
    expect(pointAt(box, -10, 0)).toEqual({ x: 0, y: 0 });
  });
});

describe('turnedPoint', () => {
  it('turns a point to the right, and back', () => {
    expect(turnedPoint({ x: 0.1, y: 0 }, 1)).toEqual({ x: 1, y: 0.1 });
    for (const turned of [0, 1, 2, 3]) {
      const back = uprightPoint(turnedPoint({ x: 0.1, y: 0.3 }, turned), turned);
      expect(back.x).toBeCloseTo(0.1);
      expect(back.y).toBeCloseTo(0.3);
    }
  });
});
