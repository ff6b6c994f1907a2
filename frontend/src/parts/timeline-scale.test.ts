import { describe, expect, it } from 'vitest';

import { frameAt, timelineScale } from './timeline-scale';

const burst = (group: number, start: number, count: number) =>
  Array.from({ length: count }, (_, n) => ({
    id: group * 1000 + n,
    group,
    takenAt: start + n,
  }));

describe('the timeline', () => {
  it.each([2, 50, 20_000])('fits %i frames in order into its height', (count) => {
    const frames = Array.from({ length: count }, (_, n) => ({
      id: n,
      group: Math.floor(n / 5),
      takenAt: n * 3 + (n > count / 2 ? 4000 : 0),
    }));
    const { ticks } = timelineScale(frames, 800);
    const ys = ticks.map((tick) => tick.y);
    expect(ys).toEqual([...ys].sort((a, b) => a - b));
    expect(ys[0]).toBeGreaterThanOrEqual(0);
    expect(ys.at(-1)).toBeLessThanOrEqual(800);
  });

  it('folds long pauses and labels them', () => {
    const { pauses, blocks } = timelineScale([...burst(0, 0, 3), ...burst(1, 5000, 3)], 800);
    expect(pauses.map((pause) => pause.until)).toEqual([0, 5000]);
    expect(blocks).toHaveLength(2);
    expect(blocks[1]!.top - blocks[0]!.bottom).toBeLessThan(60);
  });

  it('gives longer pauses more room', () => {
    const gap = (seconds: number) => {
      const { blocks } = timelineScale([...burst(0, 0, 2), ...burst(1, seconds, 2)], 800);
      return blocks[1]!.top - blocks[0]!.bottom;
    };
    expect(gap(200)).toBeGreaterThan(gap(20));
  });

  it('finds the nearest frame', () => {
    const scale = timelineScale(burst(0, 0, 10), 800);
    for (const tick of scale.ticks) expect(frameAt(scale, tick.y + 0.1)).toBe(tick.id);
    expect(frameAt(scale, -50)).toBe(scale.ticks[0]!.id);
    expect(frameAt(scale, 5000)).toBe(scale.ticks.at(-1)!.id);
    expect(frameAt(timelineScale([], 800), 10)).toBeUndefined();
  });
});
