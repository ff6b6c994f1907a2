import { describe, expect, it } from 'vitest';

import { CLOSEST, wheelFactor, zoomed } from './zoom';

const turned = (deltaY: number, more: Partial<WheelEvent> = {}) =>
  wheelFactor({ deltaY, deltaMode: 0, ctrlKey: false, ...more } as WheelEvent);

describe('zoomed', () => {
  it('goes from the whole picture closer and back', () => {
    expect(zoomed(0, 2, 0.2)).toBeCloseTo(0.4);
    expect(zoomed(0.4, 0.5, 0.2)).toBe(0);
    expect(zoomed(0, 0.5, 0.2)).toBe(0);
    expect(zoomed(3, 2, 0.2)).toBe(CLOSEST);
  });

  it('stops at 100 %', () => {
    expect(zoomed(0.9, 2, 0.2)).toBe(1);
    expect(zoomed(1.5, 0.5, 0.2)).toBe(1);
    expect(zoomed(1, 1.2, 0.2)).toBeCloseTo(1.2);
  });

  it('shows small pictures whole at 100 %, and larger', () => {
    expect(zoomed(0, 1.5, 1)).toBeCloseTo(1.5);
    expect(zoomed(1.5, 0.5, 1)).toBe(0);
  });
});

describe('wheelFactor', () => {
  it('is the same for lines and px, and finer for two fingers on a touchpad', () => {
    expect(turned(-100)).toBeGreaterThan(1);
    expect(turned(-100) * turned(100)).toBeCloseTo(1);
    expect(turned(-3, { deltaMode: 1 })).toBeCloseTo(turned(-48));
    expect(turned(-10, { ctrlKey: true })).toBeGreaterThan(turned(-10));
    expect(turned(-9000)).toBeLessThan(2);
  });
});
