import { describe, expect, it } from 'vitest';

import { crossed, touched } from './drawing';
import { HEADING, type Row } from './layout';

const row = (ids: number[], heading: boolean): Row => ({
  cells: ids.map((id, n) => ({ id, x: n * 105, width: 100 })),
  headings: heading ? [{ group: 0, x: 0, width: 300, rest: false }] : [],
  height: 85 + (heading ? HEADING : 0),
});
const rows = [row([1, 2, 3], true), row([4, 5, 6], false), row([7], true)];
const place = { left: 14, top: 8, height: 80 };

describe('a rectangle drawn in the sheet', () => {
  it('touches the pictures it overlaps, over several rows', () => {
    const first = 8 + HEADING;
    const all = { left: 130, top: first + 10, right: 200, bottom: first + 120 };
    expect(touched(rows, place, all)).toEqual([2, 5]);
  });

  it('touches nothing in gaps and headings', () => {
    expect(touched(rows, place, { left: 0, top: 8, right: 400, bottom: 20 })).toEqual([]);
    const gap = 14 + 101;
    expect(touched(rows, place, { left: gap, top: 40, right: gap + 2, bottom: 60 })).toEqual([]);
  });
});

describe('a stroke of a sweep', () => {
  it('crosses frames in its order, and not those beside it', () => {
    const y = 8 + HEADING + 40;
    expect(crossed(rows, place, { x: 260, y }, { x: 20, y })).toEqual([3, 2, 1]);
    // From the third of a row to the first of the next: over the second ones, or the gap.
    const [from, to] = [
      { x: 270, y },
      { x: 20, y: y + 85 },
    ];
    expect(crossed(rows, place, from, to)).not.toContain(1);
    expect(crossed(rows, place, from, to)).toEqual(expect.arrayContaining([3, 4]));
  });
});
