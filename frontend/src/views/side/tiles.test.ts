import { describe, expect, it } from 'vitest';

import { CAPTION, closeTiles, inRow, tiles, type Tile } from './tiles';

const STAGE = { width: 1200, height: 700 };

function covered(boxes: readonly Tile[]): number {
  return boxes.reduce((all, { width, height }) => all + width * height, 0);
}

function apart(a: Tile, b: Tile): boolean {
  return (
    a.left + a.width <= b.left ||
    b.left + b.width <= a.left ||
    a.top + a.height + CAPTION <= b.top ||
    b.top + b.height + CAPTION <= a.top
  );
}

describe('tiles', () => {
  it.each([1, 2, 3, 5, 8, 12])(
    'keeps %i frames in their proportions, apart, on the stage',
    (count) => {
      const ratios = Array.from({ length: count }, (_, n) => (n % 3 === 1 ? 2 / 3 : 3 / 2));
      for (const place of [tiles, closeTiles]) {
        const boxes = place(ratios, STAGE);
        expect(boxes).toHaveLength(count);
        for (const [n, box] of boxes.entries()) {
          if (place === tiles) expect(box.width / box.height).toBeCloseTo(ratios[n]!, 5);
          expect(box.left).toBeGreaterThanOrEqual(-1e-6);
          expect(box.left + box.width).toBeLessThanOrEqual(STAGE.width + 1e-6);
          expect(box.top + box.height + CAPTION).toBeLessThanOrEqual(STAGE.height + 1e-6);
          expect(boxes.every((other, m) => m === n || apart(box, other))).toBe(true);
        }
      }
    },
  );

  it('covers as much as rows can: two wide ones beside each other, two panoramas above each other', () => {
    const [first, second] = tiles([1.5, 1.5], STAGE) as [Tile, Tile];
    expect(first.top).toBe(second.top);
    // Two wide ones above each other beside an upright one.
    expect(covered(tiles([1.5, 1.5, 0.67], STAGE))).toBeGreaterThan(0.6 * 1200 * 700);
    const [upper, lower] = tiles([4, 4], STAGE) as [Tile, Tile];
    expect(upper.left).toBe(lower.left);
    expect(covered(tiles([0.67, 0.67, 0.67], STAGE))).toBeGreaterThan(0.6 * 1200 * 700);
    expect(covered(tiles([1.5, 1.5, 1.5, 1.5, 1.5, 1.5], STAGE))).toBeGreaterThan(0.7 * 1200 * 700);
  });

  it('becomes larger as frames leave', () => {
    const ratios = Array.from({ length: 12 }, () => 1.5);
    const least = (count: number) =>
      Math.min(...tiles(ratios.slice(0, count), STAGE).map((box) => box.height));
    for (const count of [8, 6, 4, 2]) expect(least(count / 2)).toBeGreaterThan(least(count));
    expect(least(1)).toBeGreaterThan(2 * least(12));
  });

  it('keeps all of about one size', () => {
    for (const count of [5, 7, 8, 11]) {
      const heights = tiles(Array<number>(count).fill(1.5), STAGE).map((box) => box.height);
      expect(Math.min(...heights)).toBeGreaterThanOrEqual(0.7 * Math.max(...heights) - 1e-6);
    }
  });

  it('has rows of the same length where that covers as much', () => {
    const stage = { width: 1196, height: 666 };
    const rows = (boxes: readonly Tile[]) =>
      [...new Set(boxes.map((box) => box.top))].map(
        (top) => boxes.filter((box) => box.top === top).length,
      );
    for (const place of [tiles, closeTiles]) {
      expect(rows(place(Array<number>(9).fill(1.5), stage))).toEqual([3, 3, 3]);
      expect(rows(place(Array<number>(4).fill(1.5), stage))).toEqual([2, 2]);
      expect(rows(place(Array<number>(12).fill(1.5), stage))).toEqual([4, 4, 4]);
    }
  });

  it('uses the whole stage when looking close', () => {
    expect(covered(closeTiles([1.5, 1.5, 0.67, 1.5], STAGE))).toBeGreaterThan(0.9 * 1200 * 700);
  });
});

describe('inRow', () => {
  it('goes to the nearest tile above or below', () => {
    const boxes = closeTiles([1.5, 1.5, 1.5, 1.5, 1.5, 1.5], STAGE);
    expect(inRow(boxes, 1, 1)).toBe(4);
    expect(inRow(boxes, 4, -1)).toBe(1);
    expect(inRow(boxes, 4, 1)).toBeUndefined();
    expect(inRow([], 0, 1)).toBeUndefined();
  });
});
