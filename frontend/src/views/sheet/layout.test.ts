import { describe, expect, it } from 'vitest';

import type { Frame } from '../../state/frames';
import { GAP, GROUP_GAP, HEADING, inNextRow, layout, snapped } from './layout';

function frames(...groups: [number, number][]): Frame[] {
  let id = 0;
  return groups.flatMap(([group, count]) =>
    Array.from({ length: count }, (): Frame => {
      id += 1;
      return {
        id,
        name: `QH_${id}`,
        kind: 'JPEG',
        state: 2,
        picture: 2,
        key: 'k',
        missing: false,
        notice: '',
        shotAt: id,
        width: 300,
        height: 200,
        group,
        turned: 0,
        held: false,
        movedOut: false,
        blur: null,
      };
    }),
  );
}

const ids = (rows: ReturnType<typeof layout>) => rows.map((row) => row.cells.map((c) => c.id));

describe('the layout', () => {
  it('keeps proportions and gaps', () => {
    const [row] = layout(frames([0, 2]), 1000, 100);
    expect(row!.cells).toEqual([
      { id: 1, x: 0, width: 150 },
      { id: 2, x: 150 + GAP, width: 150 },
    ]);
    expect(row!.height).toBe(100 + GAP + HEADING);
  });

  it('lets small groups share a row, with their own headings', () => {
    const rows = layout(frames([0, 1], [1, 2], [2, 1]), 1000, 100);
    expect(ids(rows)).toEqual([[1, 2, 3, 4]]);
    expect(rows[0]!.headings.map((h) => h.x)).toEqual([
      0,
      150 + GROUP_GAP,
      150 * 3 + GAP + 2 * GROUP_GAP,
    ]);
  });

  it('breaks long groups and lets others follow their rest', () => {
    const rows = layout(frames([0, 4], [1, 1], [2, 3]), 500, 100);
    expect(ids(rows)).toEqual([
      [1, 2, 3],
      [4, 5],
      [6, 7, 8],
    ]);
    expect(rows[1]!.headings.map((h) => [h.group, h.rest])).toEqual([
      [0, true],
      [1, false],
    ]);
  });

  it('begins a group that is longer than a row in the rest of one, two frames at least', () => {
    const rows = layout(frames([0, 1], [1, 5]), 640, 100);
    expect(ids(rows)).toEqual([
      [1, 2, 3, 4],
      [5, 6],
    ]);
    expect(ids(layout(frames([0, 3], [1, 5]), 640, 100))[1]).toEqual([4, 5, 6, 7]);
  });

  it('keeps room under each frame', () => {
    const [first, second] = layout(frames([0, 7]), 640, 100, undefined, 18);
    expect([first!.height, second!.height]).toEqual([100 + 18 + GAP + HEADING, 100 + 18 + GAP]);
  });

  it('never makes a frame wider than the sheet', () => {
    const wide = frames([0, 1]).map((frame) => ({ ...frame, width: 3000 }));
    expect(layout(wide, 400, 100)[0]!.cells[0]!.width).toBe(400);
  });

  it('holds every frame once', () => {
    const many = frames([0, 7], [1, 1], [2, 13], [3, 2], [4, 1]);
    expect(ids(layout(many, 640, 120)).flat()).toEqual(many.map((frame) => frame.id));
  });

  it('snaps the height so that the commonest frames fill the row', () => {
    const some = frames([0, 9]);
    const height = snapped(some, 1184, 180);
    const [row] = layout(some, 1184, height);
    const last = row!.cells.at(-1)!;
    expect(row!.cells.length).toBe(5);
    expect(height).toBeLessThanOrEqual(180);
    expect(1184 - (last.x + last.width)).toBeLessThan(GROUP_GAP);
    expect(snapped([], 1184, 180)).toBeGreaterThan(100);
  });

  it('finds the frame above and below', () => {
    const rows = layout(frames([0, 6]), 480, 100);
    expect(inNextRow(rows, 2, 1)).toBe(5);
    expect(inNextRow(rows, 6, -1)).toBe(3);
    expect(inNextRow(rows, 2, -1)).toBeUndefined();
  });
});
