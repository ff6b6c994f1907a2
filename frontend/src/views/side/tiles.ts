/**
 * Where the compared frames lie: in rows, so that together they cover as much of the stage as they
 * can.
 */

export interface Tile {
  left: number;
  top: number;
  width: number;
  height: number;
}

interface Stage {
  /** CSS px */
  width: number;
  height: number;
}

export const TILE_GAP = 8;
/** px under each photograph for its words */
export const CAPTION = 24;
/** No row is lower, and no column narrower, than this share of the largest. */
const LEAST_SHARE = 0.7;
const CLEARLY = 1.1;
/** What covers as much as this is not worse. */
const AS_MUCH = 1.01;

/**
 * Boxes for photographs of these proportions (width to height), in order. All ways of breaking them
 * into rows, or into columns, are tried: of each, the largest give way until all fit and are of
 * about one size, and the way that covers most wins; rows are easier to read, so that columns must
 * be clearly better. `alike`: they show one thing, and all rows are of one height, so that nothing but
 * what they show differs.
 */
export function tiles(ratios: readonly number[], stage: Stage, alike = false): Tile[] {
  const rows = inRows(bestRows(ratios, stage, alike), stage);
  if (alike) return rows;
  const columns = inColumns(bestColumns(ratios, stage), stage);
  return covered(columns) > CLEARLY * covered(rows) ? columns : rows;
}

function covered(boxes: readonly Tile[]): number {
  return boxes.reduce((all, { width, height }) => all + width * height, 0);
}

function inRows(rows: readonly Row[], stage: Stage): Tile[] {
  const total = rows.reduce((all, row) => all + row.height + CAPTION, TILE_GAP * (rows.length - 1));
  const boxes: Tile[] = [];
  let top = Math.max(0, (stage.height - total) / 2);
  for (const row of rows) {
    const width = row.ratios.reduce((all, ratio) => all + ratio * row.height, 0);
    let left = (stage.width - width - TILE_GAP * (row.ratios.length - 1)) / 2;
    for (const ratio of row.ratios) {
      boxes.push({ left, top, width: ratio * row.height, height: row.height });
      left += ratio * row.height + TILE_GAP;
    }
    top += row.height + CAPTION + TILE_GAP;
  }
  return boxes;
}

interface Column {
  ratios: readonly number[];
  width: number;
}

function inColumns(columns: readonly Column[], stage: Stage): Tile[] {
  const total = columns.reduce(
    (all, column) => all + column.width,
    TILE_GAP * (columns.length - 1),
  );
  const boxes: Tile[] = [];
  let left = Math.max(0, (stage.width - total) / 2);
  for (const { ratios, width } of columns) {
    const high = ratios.reduce(
      (all, ratio) => all + width / ratio + CAPTION,
      TILE_GAP * (ratios.length - 1),
    );
    let top = Math.max(0, (stage.height - high) / 2);
    for (const ratio of ratios) {
      boxes.push({ left, top, width, height: width / ratio });
      top += width / ratio + CAPTION + TILE_GAP;
    }
    left += width + TILE_GAP;
  }
  return boxes;
}

/** Boxes in the same rows that fill the stage: looking close, the proportions don't matter. */
export function closeTiles(ratios: readonly number[], stage: Stage, alike = false): Tile[] {
  const rows = bestRows(ratios, stage, alike);
  const height = (stage.height - TILE_GAP * (rows.length - 1)) / rows.length;
  const most = Math.max(...rows.map((row) => row.ratios.length));
  return rows.flatMap((row, n) => {
    const count = alike ? most : row.ratios.length;
    const width = (stage.width - TILE_GAP * (count - 1)) / count;
    const left = ((count - row.ratios.length) * (width + TILE_GAP)) / 2;
    return row.ratios.map((_, at) => ({
      left: left + at * (width + TILE_GAP),
      top: n * (height + TILE_GAP),
      width,
      height: height - CAPTION,
    }));
  });
}

interface Row {
  ratios: readonly number[];
  height: number;
}

function bestRows(ratios: readonly number[], stage: Stage, alike: boolean): Row[] {
  return best(ratios, (rows) => {
    const wide = rows.map(
      (row) =>
        (stage.width - TILE_GAP * (row.length - 1)) / row.reduce((sum, ratio) => sum + ratio, 0),
    );
    const room = stage.height - rows.length * CAPTION - TILE_GAP * (rows.length - 1);
    const heights = alike
      ? rows.map(() => Math.max(1, Math.min(...wide, room / rows.length)))
      : lowered(wide, room);
    return rows.map((row, n) => ({
      ratios: row,
      height: heights[n]!,
      covers: heights[n]! ** 2 * row.reduce((sum, ratio) => sum + ratio, 0),
    }));
  });
}

function bestColumns(ratios: readonly number[], stage: Stage): Column[] {
  return best(ratios, (columns) => {
    const down = columns.map((column) => column.reduce((sum, ratio) => sum + 1 / ratio, 0));
    const high = columns.map(
      (column, n) =>
        (stage.height - column.length * CAPTION - TILE_GAP * (column.length - 1)) / down[n]!,
    );
    const widths = lowered(high, stage.width - TILE_GAP * (columns.length - 1));
    return columns.map((column, n) => ({
      ratios: column,
      width: widths[n]!,
      covers: widths[n]! ** 2 * down[n]!,
    }));
  });
}

/**
 * Of the ways to break frames into runs whose runs cover most, the one with runs of the most alike
 * lengths.
 */
function best<T extends { covers: number; ratios: readonly number[] }>(
  ratios: readonly number[],
  laid: (runs: readonly (readonly number[])[]) => T[],
): T[] {
  let chosen: T[] = [];
  let most = -1;
  let uneven = Infinity;
  // Each bit of the number says whether a run ends behind that frame.
  for (let breaks = 0; breaks < 1 << Math.max(0, ratios.length - 1); breaks += 1) {
    const runs = laid(brokenAt(ratios, breaks));
    const covers = runs.reduce((all, run) => all + run.covers, 0);
    if (covers < most / AS_MUCH) continue;
    const lengths = runs.map((run) => run.ratios.length);
    const spread = Math.max(...lengths) - Math.min(...lengths);
    if (covers > AS_MUCH * most || spread < uneven || (spread === uneven && covers > most)) {
      chosen = runs;
      uneven = spread;
      most = Math.max(most, covers);
    }
  }
  return chosen;
}

function brokenAt(ratios: readonly number[], breaks: number): (readonly number[])[] {
  const rows: number[][] = [[]];
  ratios.forEach((ratio, n) => {
    rows.at(-1)!.push(ratio);
    if (n < ratios.length - 1 && (breaks >> n) & 1) rows.push([]);
  });
  return rows;
}

/** Lengths, the largest lowered until all together fit the room, and are of about one size. */
function lowered(lengths: readonly number[], room: number): number[] {
  const wished = lengths.map((length) => Math.max(1, length));
  let left = Math.max(lengths.length, room);
  let cap = Infinity;
  let open = wished.length;
  for (const length of wished.toSorted((a, b) => a - b)) {
    if (length * open > left) {
      cap = left / open;
      break;
    }
    left -= length;
    open -= 1;
  }
  const largest = Math.min(cap, Math.min(...wished, cap) / LEAST_SHARE);
  return wished.map((length) => Math.min(length, largest));
}

/** The tile nearest above (−1) or below one; undefined where there is none. */
export function inRow(boxes: readonly Tile[], at: number, way: 1 | -1): number | undefined {
  const start = boxes[at];
  if (!start) return undefined;
  const off = (box: Tile) => ({
    x: box.left + box.width / 2 - start.left - start.width / 2,
    y: way * (box.top + box.height / 2 - start.top - start.height / 2),
  });
  return [...boxes.keys()]
    .filter((n) => off(boxes[n]!).y > start.height / 2)
    .sort((a, b) => {
      const [first, second] = [off(boxes[a]!), off(boxes[b]!)];
      return Math.hypot(first.x, first.y) - Math.hypot(second.x, second.y);
    })[0];
}
