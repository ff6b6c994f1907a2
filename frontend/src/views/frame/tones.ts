/** What the tones of a picture say: its histogram, what is clipped, which edges are in focus. */

export interface Pixels {
  /** R, G, B, A, 0…255 */
  data: Uint8ClampedArray;
  width: number;
  height: number;
}

/** A channel from `high` on, or all three up to `low`, is taken for clipped: values of 0…255. */
export interface Ends {
  high: number;
  low: number;
}

export interface Histogram {
  /** pixels with each of 256 values: red, green, blue, and luma (Rec. 709 weights) */
  red: Uint32Array;
  green: Uint32Array;
  blue: Uint32Array;
  luma: Uint32Array;
}

export function histogram({ data }: Pixels): Histogram {
  const [red, green, blue, luma] = [0, 1, 2, 3].map(() => new Uint32Array(256)) as [
    Uint32Array,
    Uint32Array,
    Uint32Array,
    Uint32Array,
  ];
  for (let at = 0; at < data.length; at += 4) {
    const r = data[at]!;
    const g = data[at + 1]!;
    const b = data[at + 2]!;
    red[r]! += 1;
    green[g]! += 1;
    blue[b]! += 1;
    luma[(13933 * r + 46871 * g + 4732 * b + 32768) >> 16]! += 1;
  }
  return { red, green, blue, luma };
}

/**
 * Clipped highlights as diagonal stripes in two tones, clipped shadows as light dots, on nothing:
 * told by their pattern, not by colour.
 */
export function clippedOver({ data, width, height }: Pixels, { high, low }: Ends): Pixels {
  const out = new Uint8ClampedArray(data.length);
  for (let y = 0; y < height; y += 1) {
    for (let x = 0; x < width; x += 1) {
      const at = (y * width + x) * 4;
      const [r, g, b] = [data[at]!, data[at + 1]!, data[at + 2]!];
      let tone = -1;
      if (r >= high || g >= high || b >= high) tone = (x + y) % 12 < 6 ? 0 : 255;
      else if (r <= low && g <= low && b <= low && x % 8 < 3 && y % 8 < 3) tone = 235;
      if (tone >= 0) {
        out[at] = out[at + 1] = out[at + 2] = tone;
        out[at + 3] = 255;
      }
    }
  }
  return { data: out, width, height };
}

/** So far over the noise an edge must stand out, and at least by so much of 255. */
const OVER_NOISE = 6;
const LEAST_EDGE = 30;
/** Noise depends on brightness: it is measured in so many bands of it. */
const BANDS = 16;
/** So many of the eight around a pixel must be edges too: an edge is a line, noise is dots. */
const LEAST_NEIGHBOURS = 2;

/**
 * The edges that are in focus, as bright dots on nothing: where the tone bends sharply from a pixel
 * to the next. Noise is measured as the usual bend (median) at each brightness, and stays out.
 */
export function edgesOver({ data, width, height }: Pixels): Pixels {
  const luma = new Int16Array(width * height);
  for (let n = 0; n < luma.length; n += 1) {
    luma[n] = (54 * data[n * 4]! + 183 * data[n * 4 + 1]! + 19 * data[n * 4 + 2]!) >> 8;
  }
  const bend = new Uint16Array(luma.length);
  const counts = Array.from({ length: BANDS }, () => new Uint32Array(1024));
  for (let y = 1; y < height - 1; y += 1) {
    for (let n = y * width + 1; n < (y + 1) * width - 1; n += 1) {
      const strength = Math.abs(
        4 * luma[n]! - luma[n - 1]! - luma[n + 1]! - luma[n - width]! - luma[n + width]!,
      );
      bend[n] = strength;
      counts[luma[n]! >> 4]![strength]! += 1;
    }
  }
  const limits = counts.map((own) => Math.max(LEAST_EDGE, OVER_NOISE * median(own)));
  const edge = new Uint8Array(luma.length);
  for (let n = 0; n < edge.length; n += 1) {
    if (bend[n]! > limits[luma[n]! >> 4]!) edge[n] = 1;
  }
  const out = new Uint8ClampedArray(data.length);
  for (let y = 1; y < height - 1; y += 1) {
    for (let n = y * width + 1; n < (y + 1) * width - 1; n += 1) {
      if (!edge[n]) continue;
      const above = edge[n - width - 1]! + edge[n - width]! + edge[n - width + 1]!;
      const below = edge[n + width - 1]! + edge[n + width]! + edge[n + width + 1]!;
      if (above + below + edge[n - 1]! + edge[n + 1]! < LEAST_NEIGHBOURS) continue;
      out[n * 4] = 255;
      out[n * 4 + 1] = 240;
      out[n * 4 + 3] = 255;
    }
  }
  return { data: out, width, height };
}

/** The middle of values, from how often each of them occurs. */
function median(counts: Uint32Array): number {
  const half = counts.reduce((all, count) => all + count, 0) / 2;
  let sum = 0;
  return counts.findIndex((count) => {
    sum += count;
    return sum >= half;
  });
}
