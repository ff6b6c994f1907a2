/** Where the compared frames lie: in rows, so that together they cover as much of the stage as they can. */

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
/** No row is lower than this share of the tallest. */
const LEAST_SHARE = 0.7;

/**
 * Boxes for photographs of these proportions (width to height), in order. All ways of breaking them into
 * rows are tried: of each, the tallest rows give way until all fit and are of
 * about one height, and the way that covers most wins.
 */
export function tiles(ratios: readonly number[], stage: Stage): Tile[] {
  const rows = bestRows(ratios, stage);
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

/** Boxes in the same rows that fill the stage: looking close, the proportions don't matter. */
export function closeTiles(ratios: readonly number[], stage: Stage): Tile[] {
  const rows = bestRows(ratios, stage);
  const height = (stage.height - TILE_GAP * (rows.length - 1)) / rows.length;
  return rows.flatMap((row, n) => {
    const count = row.ratios.length;
    const width = (stage.width - TILE_GAP * (count - 1)) / count;
    return row.ratios.map((_, at) => ({
      left: at * (width + TILE_GAP),
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

function bestRows(ratios: readonly number[], stage: Stage): Row[] {
  let best: Row[] = [];
  let most = -1;
  // Each bit of the number says whether a row ends behind that frame.
  for (let breaks = 0; breaks < 1 << Math.max(0, ratios.length - 1); breaks += 1) {
    const rows = fittedRows(brokenAt(ratios, breaks), stage);
    const covered = rows.reduce(
      (all, row) => all + row.height ** 2 * row.ratios.reduce((sum, one) => sum + one, 0),
      0,
    );
    if (covered > most) {
      most = covered;
      best = rows;
    }
  }
  return best;
}

function brokenAt(ratios: readonly number[], breaks: number): (readonly number[])[] {
  const rows: number[][] = [[]];
  ratios.forEach((ratio, n) => {
    rows.at(-1)!.push(ratio);
    if (n < ratios.length - 1 && (breaks >> n) & 1) rows.push([]);
  });
  return rows;
}

/** The heights at which rows fill the width, the tallest lowered until all fit the height. */
function fittedRows(rows: readonly (readonly number[])[], stage: Stage): Row[] {
  const wide = rows.map((row) =>
    Math.max(
      1,
      (stage.width - TILE_GAP * (row.length - 1)) / row.reduce((sum, one) => sum + one, 0),
    ),
  );
  const room = Math.max(
    rows.length,
    stage.height - rows.length * CAPTION - TILE_GAP * (rows.length - 1),
  );
  let cap = Infinity;
  let left = room;
  let open = wide.length;
  for (const height of wide.toSorted((a, b) => a - b)) {
    if (height * open > left) {
      cap = left / open;
      break;
    }
    left -= height;
    open -= 1;
  }
  // Frames that are compared are of about one size.
  const tallest = Math.min(cap, Math.min(...wide, cap) / LEAST_SHARE);
  return rows.map((row, n) => ({ ratios: row, height: Math.min(wide[n]!, tallest) }));
}

/** The tile in the row above (−1) or below that lies nearest; undefined where there is no such row. */
export function inRow(boxes: readonly Tile[], at: number, way: 1 | -1): number | undefined {
  const own = boxes[at];
  if (!own) return undefined;
  const middle = (box: Tile) => box.left + box.width / 2;
  const tops = [...new Set(boxes.map((box) => box.top))].sort((a, b) => a - b);
  const top = tops[tops.indexOf(own.top) + way];
  if (top === undefined) return undefined;
  return [...boxes.keys()]
    .filter((n) => boxes[n]!.top === top)
    .sort(
      (a, b) =>
        Math.abs(middle(boxes[a]!) - middle(own)) - Math.abs(middle(boxes[b]!) - middle(own)),
    )[0];
}
