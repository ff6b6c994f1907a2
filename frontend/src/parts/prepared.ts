/** Pictures decoded before they are asked for, so that the next frame is there at once. */

interface Entry {
  image: HTMLImageElement;
  ready: boolean;
}

/** How many of each kind are held; one at full size can take a hundred megabytes. */
const MOST = { preview: 14, full: 5 };
const held = { preview: new Map<string, Entry>(), full: new Map<string, Entry>() };

/** Fetch and decode a picture, and hold it; the ones asked for longest ago are let go. */
export function prepare(url: string, kind: keyof typeof MOST = 'preview'): void {
  const own = held[kind];
  const known = own.get(url);
  if (known) {
    own.delete(url);
    own.set(url, known);
    return;
  }
  const image = new Image();
  const entry = { image, ready: false };
  own.set(url, entry);
  image.src = url;
  image.decode().then(
    () => (entry.ready = true),
    () => own.delete(url),
  );
  for (const oldest of own.keys()) {
    if (own.size <= MOST[kind]) break;
    own.delete(oldest);
  }
}

export function isReady(url: string): boolean {
  return (held.preview.get(url) ?? held.full.get(url))?.ready ?? false;
}
