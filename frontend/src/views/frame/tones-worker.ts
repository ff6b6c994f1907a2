/** Reads a picture's tones beside the page, which must not wait for it. */
import { clippedOver, edgesOver, histogram, type Ends, type Histogram, type Pixels } from './tones';

export interface Asked {
  url: string;
  /** where what is clipped begins; null where that isn't asked */
  clipped: Ends | null;
  edges: boolean;
}

export interface Told {
  url: string;
  error?: string;
  histogram?: Histogram;
  clipped?: ImageBitmap;
  edges?: ImageBitmap;
}

async function look({ url, clipped, edges }: Asked): Promise<Told> {
  const answer = await fetch(url);
  if (!answer.ok) throw new Error('This picture isn’t there yet.');
  const picture = await createImageBitmap(await answer.blob());
  const canvas = new OffscreenCanvas(picture.width, picture.height);
  const pen = canvas.getContext('2d', { willReadFrequently: true })!;
  pen.drawImage(picture, 0, 0);
  picture.close();
  const pixels = pen.getImageData(0, 0, canvas.width, canvas.height);
  const bitmap = ({ data, width, height }: Pixels) =>
    createImageBitmap(new ImageData(data as Uint8ClampedArray<ArrayBuffer>, width, height));
  return {
    url,
    histogram: histogram(pixels),
    ...(clipped && { clipped: await bitmap(clippedOver(pixels, clipped)) }),
    ...(edges && { edges: await bitmap(edgesOver(pixels)) }),
  };
}

self.addEventListener('message', ({ data }: MessageEvent<Asked>) => {
  look(data)
    .catch((error: unknown): Told => ({ url: data.url, error: String(error) }))
    .then((told) => {
      const bitmaps = [told.clipped, told.edges].filter((bitmap) => bitmap !== undefined);
      self.postMessage(told, { transfer: bitmaps });
    })
    .catch(console.error);
});
