/** Decodes pictures beside the page, which must not wait for it, and scales them where asked to. */

export interface Wanted {
  name: string;
  url: string;
  /** px; without one the picture keeps its own size, which takes a third of the time */
  size?: { width: number; height: number };
}

export interface Made {
  name: string;
  bitmap: ImageBitmap | null;
}

async function make({ url, size }: Wanted): Promise<ImageBitmap> {
  const answer = await fetch(url);
  if (!answer.ok) throw new Error('not there yet');
  const blob = await answer.blob();
  if (!size) return createImageBitmap(blob);
  const { width: resizeWidth, height: resizeHeight } = size;
  return createImageBitmap(blob, { resizeWidth, resizeHeight, resizeQuality: 'high' });
}

self.addEventListener('message', ({ data }: MessageEvent<Wanted>) => {
  const { name } = data;
  make(data).then(
    (bitmap) => self.postMessage({ name, bitmap } satisfies Made, { transfer: [bitmap] }),
    () => self.postMessage({ name, bitmap: null } satisfies Made),
  );
});
