/**
 * Pictures decoded before they are asked for, so that the next frame is there at once.
 *
 * Previews are held as bitmaps, decoded beside the page: drawing one takes a few milliseconds,
 * whatever the browser has thrown away meanwhile.
 */
import type { Made, Wanted } from './bitmap-worker';

interface Size {
  /** px of the screen */
  width: number;
  height: number;
}

interface Prepared {
  bitmap: ImageBitmap;
  bytes: number;
  /** px: the width it was decoded for */
  drawn: number;
}

const MOST_BYTES = 160e6;
/** Even where they are very large, the neighbours on both sides stay. */
const LEAST = 6;
/** So many are made at once; what was asked for before is dropped when something else is wanted. */
const AT_ONCE = 2;
const bitmaps = new Map<string, Prepared>();
const making = new Map<string, Wanted>();
const listeners = new Set<() => void>();
let waiting: Wanted[] = [];
let worker: Worker | null = null;

function workerOf(): Worker {
  if (worker) return worker;
  worker = new Worker(new URL('./bitmap-worker.ts', import.meta.url), { type: 'module' });
  worker.onmessage = ({ data: { name, bitmap } }: MessageEvent<Made>) => {
    const drawn = making.get(name)?.drawn.width ?? 0;
    making.delete(name);
    if (bitmap) {
      bitmaps.get(name)?.bitmap.close();
      bitmaps.set(name, { bitmap, bytes: 4 * bitmap.width * bitmap.height, drawn });
      letGo();
      for (const heard of listeners) heard();
    }
    makeNext();
  };
  return worker;
}

function makeNext(): void {
  while (making.size < AT_ONCE) {
    const next = waiting.shift();
    if (!next) return;
    making.set(next.name, next);
    workerOf().postMessage(next);
  }
}

/** The ones asked for longest ago go. */
function letGo(): void {
  let bytes = [...bitmaps.values()].reduce((all, bitmap) => all + bitmap.bytes, 0);
  for (const [oldest, bitmap] of bitmaps) {
    if (bytes <= MOST_BYTES || bitmaps.size <= LEAST) break;
    bitmaps.delete(oldest);
    bytes -= bitmap.bytes;
    bitmap.bitmap.close();
  }
}

function nameOf(url: string, size: Size): string {
  return `${url} ${size.width}x${size.height}`;
}

/**
 * Fetch and decode these previews, the most wanted first, instead of those wanted before. `size` is
 * what they are drawn in. A `fine` one is scaled to it: finer than the screen does it, but slower
 * than pictures can fly past.
 */
export function preparePreviews(
  wanted: readonly { url: string; size: Size; fine: boolean }[],
): void {
  waiting = [];
  for (const { url, size, fine } of wanted) {
    const name = fine ? nameOf(url, size) : url;
    const known = bitmaps.get(name);
    // Decoded for a smaller window, it would look soft.
    if (known && known.drawn >= 0.9 * size.width) {
      bitmaps.delete(name);
      bitmaps.set(name, known);
    } else if (!making.has(name)) waiting.push({ name, url, drawn: size, fine });
  }
  makeNext();
}

/** Be told when a preview is there, until the returned function is called. */
export function onPrepared(heard: () => void): () => void {
  listeners.add(heard);
  return () => listeners.delete(heard);
}

/** A decoded preview: in this size if it is there, else in its own, else none. */
export function preparedPreview(url: string, size: Size): ImageBitmap | null {
  return (bitmaps.get(nameOf(url, size)) ?? bitmaps.get(url))?.bitmap ?? null;
}

/**
 * Pictures at full size take a hundred megabytes: only the nearest, and as the browser holds them.
 */
const MOST_FULL = 5;
const full = new Map<string, { image: HTMLImageElement; ready: boolean }>();

/** Fetch and decode a picture at full size, and hold it. */
export function prepareFull(url: string): void {
  const known = full.get(url);
  full.delete(url);
  if (known) {
    full.set(url, known);
    return;
  }
  const image = new Image();
  const entry = { image, ready: false };
  full.set(url, entry);
  image.src = url;
  image.decode().then(
    () => (entry.ready = true),
    () => full.delete(url),
  );
  for (const oldest of full.keys()) {
    if (full.size <= MOST_FULL) break;
    full.delete(oldest);
  }
}

export function isFullReady(url: string): boolean {
  return full.get(url)?.ready ?? false;
}
