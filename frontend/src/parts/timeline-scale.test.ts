import { describe, expect, it } from 'vitest';

import { shares } from './timeline-drawing';
import { frameAt, pauseInWords, timelineScale } from './timeline-scale';

const burst = (group: number, start: number, count: number) =>
  Array.from({ length: count }, (_, n) => ({
    id: group * 1000 + n,
    group,
    shotAt: start + n,
  }));

describe('the timeline', () => {
  it.each([2, 50, 20_000])('fits %i frames in order into its height', (count) => {
    const frames = Array.from({ length: count }, (_, n) => ({
      id: n,
      group: Math.floor(n / 5),
      shotAt: n * 3 + (n > count / 2 ? 4000 : 0),
    }));
    const { ticks } = timelineScale(frames, 800);
    const ys = ticks.map((tick) => tick.y);
    expect(ys).toEqual([...ys].sort((a, b) => a - b));
    expect(ys[0]).toBeGreaterThanOrEqual(0);
    expect(ys.at(-1)).toBeLessThanOrEqual(800);
  });

  it('names each day of several, and tells no time of a file that could not be read', () => {
    const day = 86_400;
    const frames = [...burst(0, 10, 3), ...burst(1, day + 10, 3), ...burst(2, 2 * day, 2)];
    const { labels } = timelineScale(frames, 800);
    expect(labels.map((label) => label.day)).toEqual([0, 1, 2]);
    expect(timelineScale(burst(0, 0, 3), 800).labels[0]!.day).toBeNull();
    const lost = { id: 9, group: 0, shotAt: null };
    expect(timelineScale([lost, ...burst(1, 60_000, 2)], 800).labels.map((l) => l.time)).toEqual([
      null,
    ]);
  });

  it('folds long pauses and labels them', () => {
    const { labels, blocks } = timelineScale([...burst(0, 0, 3), ...burst(1, 5000, 3)], 800);
    expect(labels.map(({ time, pause }) => [time, pause])).toEqual([
      [0, 0],
      [5000, 4998],
    ]);
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

  it('labels long stretches, and of many pauses the longest', () => {
    const even = Array.from({ length: 2000 }, (_, n) => ({
      id: n,
      group: Math.floor(n / 5),
      shotAt: n * 10,
    }));
    const { labels } = timelineScale(even, 800);
    expect(labels.length).toBeGreaterThan(3);
    const gaps = labels.slice(1).map((label, n) => label.y - labels[n]!.y);
    expect(Math.max(...gaps)).toBeLessThan(220);

    const many = Array.from({ length: 300 }, (_, n) => ({
      id: n,
      group: n,
      shotAt: n * (n + 400),
    }));
    const { labels: kept, ticks } = timelineScale(many, 800);
    expect(kept.length).toBeLessThan(20);
    expect(kept.at(-1)!.time).toBe(many.at(-1)!.shotAt);
    expect(ticks.at(-1)!.y).toBeLessThanOrEqual(800);
  });

  it('says how long a pause was', () => {
    expect([400, 5400, 9000, 40 * 3600, 200 * 3600].map(pauseInWords)).toEqual([
      '+7m',
      '+90m',
      '+3h',
      '+40h',
      '+8d',
    ]);
  });

  it('counts what share of a row has which decision', () => {
    const ticks = [0, 0.5, 1, 2.5].map((y, id) => ({ id, y }));
    const mark = { stars: 0, label: null };
    const marks = new Map([
      [0, { ...mark, decision: 'pick' as const }],
      [3, { ...mark, decision: 'reject' as const }],
    ]);
    const rows = shares(ticks, marks, new Set([0, 1]));
    expect(rows.get(0)).toEqual({
      decisions: { pick: 1, undecided: 2, reject: 0 },
      visible: 2,
      all: 3,
    });
    expect(rows.get(1)!.decisions.reject).toBe(1);
  });

  it('finds the nearest frame', () => {
    const scale = timelineScale(burst(0, 0, 10), 800);
    for (const tick of scale.ticks) expect(frameAt(scale, tick.y + 0.1)).toBe(tick.id);
    expect(frameAt(scale, -50)).toBe(scale.ticks[0]!.id);
    expect(frameAt(scale, 5000)).toBe(scale.ticks.at(-1)!.id);
    expect(frameAt(timelineScale([], 800), 10)).toBeUndefined();
  });
});

describe('many equal pauses', () => {
  it('are labelled all along, not only the first of them', () => {
    const frames = Array.from({ length: 4000 }, (_, n) => ({
      id: n,
      group: Math.floor(n / 10),
      shotAt: n + 3000 * Math.floor(n / 40),
    }));
    const { labels } = timelineScale(frames, 780);
    expect(labels.length).toBeGreaterThan(6);
    expect(labels.at(-1)!.y).toBeGreaterThan(600);
    expect(labels.at(-1)!.y).toBeLessThan(780);
  });
});
