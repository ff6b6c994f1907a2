/** The sheet's layout: rows of one height at true proportions, small groups sharing a row. */
import { ratioOf, type Frame } from '../../state/frames';

export interface Cell {
  id: number;
  /** px from the left edge of the row */
  x: number;
  width: number;
}

export interface Heading {
  group: number;
  x: number;
  /** px until the next heading or the end of the row */
  width: number;
  /** the rest of a group that began on a row above */
  rest: boolean;
}

export interface Row {
  cells: Cell[];
  headings: Heading[];
  /** px of the row with its heading line and the gap under it */
  height: number;
}

export const GAP = 5;
export const GROUP_GAP = 28;
export const HEADING = 26;

/**
 * The row height nearest to the wished one at which frames of the commonest proportions fill a row
 * without a rest. Heights and `width` in px.
 */
export function snapped(
  frames: readonly Frame[],
  width: number,
  wished: number,
  runOf: (frame: Frame) => number = (frame) => frame.group,
): number {
  const runs = inRuns(frames, runOf).length;
  // Where most groups are one frame, the gaps between groups are the usual ones.
  const gap = runs > frames.length / 2 ? GROUP_GAP : GAP;
  const counts = new Map<number, number>();
  for (const frame of frames) {
    const ratio = Math.round(ratioOf(frame) * 100) / 100;
    counts.set(ratio, (counts.get(ratio) ?? 0) + 1);
  }
  const common = [...counts].reduce(
    (best, ratio) => (ratio[1] > best[1] ? ratio : best),
    [1.5, 0],
  )[0];
  // Room for one change of group is kept, so that a small group still fits behind a rest.
  const room = width + GAP + gap - GROUP_GAP;
  const perRow = Math.max(1, Math.round(room / (wished * common + gap)));
  return Math.floor((room / perRow - gap) / common);
}

/**
 * Lay frames out. A group begins behind the one before it if all of it fits into the rest of that
 * row, else on a new row; a long group goes over several rows, and others may follow its rest.
 */
export function layout(
  frames: readonly Frame[],
  width: number,
  rowHeight: number,
  runOf: (frame: Frame) => number = (frame) => frame.group,
): Row[] {
  const rows: Row[] = [];
  let row: Row | null = null;
  let x = 0;
  let held = 0;

  const newRow = (): Row => {
    const made: Row = { cells: [], headings: [], height: rowHeight + GAP };
    rows.push(made);
    x = 0;
    return made;
  };

  for (const members of inRuns(frames, runOf)) {
    const widths = members.map((frame) => Math.min(width, Math.round(rowHeight * ratioOf(frame))));
    const all = widths.reduce((sum, width) => sum + width, 0) + GAP * (widths.length - 1);
    if (row === null || x + GROUP_GAP + all > width) {
      row = newRow();
    } else {
      if (!row.headings.length) row.headings.push({ group: held, x: 0, width, rest: true });
      x += GROUP_GAP - GAP;
    }
    held = runOf(members[0]!);
    row.headings.push({ group: held, x, width: width - x, rest: false });
    row.height = rowHeight + GAP + HEADING;
    const before = row.headings.at(-2);
    if (before) before.width = x - before.x - GAP;
    for (const [n, frame] of members.entries()) {
      if (row.cells.length && x + widths[n]! > width) row = newRow();
      row.cells.push({ id: frame.id, x, width: widths[n]! });
      x += widths[n]! + GAP;
    }
  }
  return rows;
}

function inRuns(frames: readonly Frame[], runOf: (frame: Frame) => number): Frame[][] {
  const runs: Frame[][] = [];
  let held: number | undefined;
  for (const frame of frames) {
    const run = runOf(frame);
    if (run === held) runs.at(-1)!.push(frame);
    else runs.push([frame]);
    held = run;
  }
  return runs;
}

/** The frame above (−1) or below (1) another: the one whose middle is nearest. */
export function inNextRow(rows: readonly Row[], active: number, way: 1 | -1): number | undefined {
  const at = rows.findIndex((row) => row.cells.some((cell) => cell.id === active));
  const cell = rows[at]?.cells.find((cell) => cell.id === active);
  const next = rows[at + way];
  if (!cell || !next) return undefined;
  const middle = cell.x + cell.width / 2;
  const off = (cell: Cell) => Math.abs(cell.x + cell.width / 2 - middle);
  return next.cells.reduce((best, cell) => (off(cell) < off(best) ? cell : best)).id;
}
