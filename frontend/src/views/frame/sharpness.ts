/** How the focus map is drawn over the photograph: squares, the larger the sharper. */
import type { FocusTiles } from '../../api/client';

/**
 * The share of a tile that its square fills: 1 for sharp to the pixel, less the more blurred, 0
 * without an edge.
 */
export function filled(blur: number | null): number {
  return blur === null ? 0 : Math.min(1, 0.85 / (blur + 0.35));
}

/** Tiles put together `times` by `times`, each with its sharpest; a map of fewer, larger tiles. */
export function together(map: FocusTiles, times: number): FocusTiles {
  if (times <= 1) return map;
  const rows = Math.ceil(map.rows / times);
  const columns = Math.ceil(map.columns / times);
  const blur = Array.from({ length: rows * columns }, (): number | null => null);
  map.blur.forEach((value, n) => {
    if (value === null) return;
    const row = Math.floor(Math.floor(n / map.columns) / times);
    const column = Math.floor((n % map.columns) / times);
    const at = row * columns + column;
    blur[at] = Math.min(blur[at] ?? Infinity, value);
  });
  return { rows, columns, tile: map.tile * times, blur };
}
