/** Decodes pictures beside the page, which must not wait for it, and scales them where asked to. */

interface Size {
  /** px */
  width: number;
  height: number;
}

export interface Wanted {
  name: string;
  url: string;
  /** the size it is drawn in */
  drawn: Size;
  /**
   * scaled to the size it is drawn in: finer than the screen does it, but slower than pictures can
   * fly past
   */
  fine: boolean;
}

export interface Made {
  name: string;
  bitmap: ImageBitmap | null;
}

async function make({ url, drawn, fine }: Wanted): Promise<ImageBitmap> {
  const answer = await fetch(url);
  if (!answer.ok) throw new Error('not there yet');
  const blob = await answer.blob();
  if (fine) {
    const { width: resizeWidth, height: resizeHeight } = drawn;
    return createImageBitmap(blob, { resizeWidth, resizeHeight, resizeQuality: 'high' });
  }
  return (await smaller(blob, drawn).catch(() => null)) ?? createImageBitmap(blob);
}

/** Previews are no larger, in px; JPEGs are decoded in eighths of their size. */
const EIGHTH = 2048 / 8;

/**
 * Decoded no larger than it is drawn needs, which takes half the time; null where the browser
 * can't.
 */
async function smaller(blob: Blob, drawn: Size): Promise<ImageBitmap | null> {
  if (!('ImageDecoder' in self)) return null;
  const decoder = new ImageDecoder({
    data: await blob.arrayBuffer(),
    type: blob.type,
    desiredWidth: drawn.width + EIGHTH,
    desiredHeight: drawn.height + EIGHTH,
  });
  try {
    const { image } = await decoder.decode();
    const bitmap = await createImageBitmap(image);
    image.close();
    return bitmap;
  } finally {
    decoder.close();
  }
}

self.addEventListener('message', ({ data }: MessageEvent<Wanted>) => {
  const { name } = data;
  make(data).then(
    (bitmap) => self.postMessage({ name, bitmap } satisfies Made, { transfer: [bitmap] }),
    () => self.postMessage({ name, bitmap: null } satisfies Made),
  );
});
