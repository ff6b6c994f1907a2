/** The sheet's layout: rows of one height at true proportions, groups sharing rows. */
import { dayOf, ratioOf, type Frame } from '../../state/frames';

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
  /** the number of the day that begins with it, where frames are of several days */
  day?: number;
  /** px of the row with its heading line and the gap under it */
  height: number;
}

export const GAP = 5;
export const GROUP_GAP = 28;
export const HEADING = 26;

/** px for the name of a day above its first row. */
export const DAY = 30;
/** px for a name under a frame. */
export const NAME = 18;
/** Of a group that goes over several rows, so many stand together at least where it begins. */
const LEAST_BEGUN = 2;
/** A row that would be higher by less than this share of a frame is not made lower for it. */
const NEARLY = 0.05;

/**
 * The row height at which frames of the commonest proportions fill a row without a rest: the wished
 * one, or the next lower. Heights and `width` in px.
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
  const perRow = Math.max(1, Math.ceil(room / (wished * common + gap) - NEARLY));
  return Math.floor((room / perRow - gap) / common);
}

/**
 * Lay frames out. A group begins behind the one before it if all of it fits into the rest of that
 * row, or if it goes over several rows anyway; else on a new row. `under`: px for what stands under
 * each frame; `days`: each day begins a row of its own, with its name.
 */
export function layout(
  frames: readonly Frame[],
  width: number,
  rowHeight: number,
  runOf: (frame: Frame) => number = (frame) => frame.group,
  under = 0,
  days = false,
): Row[] {
  const each = rowHeight + under + GAP;
  const rows: Row[] = [];
  let row: Row | null = null;
  let x = 0;
  let held = 0;

  const newRow = (): Row => {
    const made: Row = { cells: [], headings: [], height: each };
    rows.push(made);
    x = 0;
    return made;
  };

  let today: number | undefined;
  for (const members of inRuns(frames, runOf)) {
    const day = days ? dayOf(members[0]!) : undefined;
    const begins = day !== undefined && day !== today;
    const widths = members.map((frame) => Math.min(width, Math.round(rowHeight * ratioOf(frame))));
    const all = widths.reduce((sum, width) => sum + width, 0) + GAP * (widths.length - 1);
    const begun = widths
      .slice(0, LEAST_BEGUN)
      .reduce((sum, width) => sum + width, GAP * (Math.min(LEAST_BEGUN, widths.length) - 1));
    const follows = x - GAP + GROUP_GAP;
    if (row === null || begins || follows + (all > width ? begun : all) > width) {
      row = newRow();
    } else {
      if (!row.headings.length) row.headings.push({ group: held, x: 0, width, rest: true });
      x += GROUP_GAP - GAP;
    }
    held = runOf(members[0]!);
    row.headings.push({ group: held, x, width: width - x, rest: false });
    if (begins) {
      row.day = day;
      today = day;
    }
    row.height = each + pictureTop(row);
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

/** px from the top of a row to its pictures. */
export function pictureTop(row: Row): number {
  return (row.day === undefined ? 0 : DAY) + (row.headings.length ? HEADING : 0);
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
