/** How large the tiles of the faces panel are. All in CSS px. */

export interface Size {
  width: number;
  height: number;
}

/** Width to height. */
const SHAPES = { faces: 0.95, eyes: 2.5 };
const LEAST_WIDTH = { faces: 96, eyes: 140 };
/** What stands above and below a tile: whose face counts, the words of its eyes, and of its signs. */
const WORDS = 64;
/** Between two tiles, and at the ends of a row. */
export const GAP = 8;

/**
 * As wide as the panel has room for so many columns, and no higher than one row of it may be: the
 * others are scrolled to. `room`: of the panel, below its heading.
 */
export function tileSize(zoom: 'faces' | 'eyes', columns: number, room: Size): Size {
  const shape = SHAPES[zoom];
  const wide = (room.width - GAP * (columns + 1)) / Math.max(1, columns);
  const high = (room.height - WORDS) * shape;
  const width = Math.floor(Math.max(LEAST_WIDTH[zoom], Math.min(wide, high)));
  return { width, height: Math.round(width / shape) };
}

const LEAST_SHARE = 0.15;
const MOST_SHARE = 0.8;

/** The share of the height that a panel takes when its upper edge is moved by so many px. */
export function shareMoved(share: number, up: number, whole: number): number {
  const moved = share + up / Math.max(1, whole);
  return Math.round(1000 * Math.min(MOST_SHARE, Math.max(LEAST_SHARE, moved))) / 1000;
}
