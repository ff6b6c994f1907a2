import { expect, it } from 'vitest';

import type { Frame } from '../../state/frames';
import { DAY, GAP, HEADING, layout, pictureTop } from './layout';

const frame = (id: number, shotAt: number | null, group: number) =>
  ({ id, shotAt, group, width: 300, height: 200, turned: 0 }) as Frame;
const DAY_S = 86_400;

it('begins a row with each day, and none with a file that says no time', () => {
  const frames = [
    frame(1, 10, 0),
    frame(2, null, 1),
    frame(3, DAY_S + 5, 2),
    frame(4, DAY_S + 9, 2),
  ];
  const rows = layout(frames, 1000, 100, undefined, 0, true);
  expect(rows.map((row) => [row.day, row.cells.map((cell) => cell.id)])).toEqual([
    [0, [1, 2]],
    [1, [3, 4]],
  ]);
  expect(pictureTop(rows[0]!)).toBe(DAY + HEADING);
  expect(rows[0]!.height).toBe(100 + GAP + HEADING + DAY);
  // Of one day nothing is said.
  expect(layout(frames, 1000, 100)[0]!.day).toBeUndefined();
});
