/** Pictures decoded before they are asked for, so that the next frame is there at once. */

const MOST = 14;
const held = new Map<string, { image: HTMLImageElement; ready: boolean }>();

/** Fetch and decode a picture, and hold it; the ones asked for longest ago are let go. */
export function prepare(url: string): void {
  const known = held.get(url);
  if (known) {
    held.delete(url);
    held.set(url, known);
    return;
  }
  const image = new Image();
  const entry = { image, ready: false };
  held.set(url, entry);
  image.src = url;
  image.decode().then(
    () => (entry.ready = true),
    () => held.delete(url),
  );
  for (const oldest of held.keys()) {
    if (held.size <= MOST) break;
    held.delete(oldest);
  }
}

export function isReady(url: string): boolean {
  return held.get(url)?.ready ?? false;
}
