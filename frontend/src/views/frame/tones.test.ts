import { describe, expect, it } from 'vitest';

import { clippedOver, edgesOver, histogram, type Pixels } from './tones';

function picture(width: number, height: number, tone: (x: number, y: number) => number[]): Pixels {
  const data = new Uint8ClampedArray(width * height * 4);
  for (let n = 0; n < width * height; n += 1) {
    data.set([...tone(n % width, Math.floor(n / width)), 255], n * 4);
  }
  return { data, width, height };
}

const ENDS = { high: 253, low: 2 };
const drawn = ({ data }: Pixels) => data.filter((_, n) => n % 4 === 3 && data[n]! > 0).length;

describe('tones', () => {
  it('are counted by channel', () => {
    const found = histogram(
      picture(10, 10, (x) => (x < 2 ? [255, 255, 255] : x < 5 ? [0, 0, 0] : [200, 100, 50])),
    );
    expect([found.red[200], found.green[100], found.blue[50]]).toEqual([50, 50, 50]);
    // Rec. 709: 0.2126 R + 0.7152 G + 0.0722 B.
    expect(found.luma[Math.round(0.2126 * 200 + 0.7152 * 100 + 0.0722 * 50)]).toBe(50);
  });

  it('that are clipped get a pattern, even where one channel alone is; others get none', () => {
    const over = clippedOver(
      picture(16, 16, () => [255, 90, 40]),
      ENDS,
    );
    expect(drawn(over)).toBe(256);
    expect(new Set(over.data.filter((_, n) => n % 4 === 0))).toEqual(new Set([0, 255]));
    const dark = drawn(
      clippedOver(
        picture(16, 16, () => [1, 0, 2]),
        ENDS,
      ),
    );
    expect(dark).toBeGreaterThan(0);
    expect(dark).toBeLessThan(64);
    expect(
      drawn(
        clippedOver(
          picture(16, 16, () => [250, 128, 3]),
          ENDS,
        ),
      ),
    ).toBe(0);
  });

  it('show sharp edges, but neither blurred ones nor noise', () => {
    const sharp = picture(40, 40, (x) => (x < 20 ? [40, 40, 40] : [200, 200, 200]));
    expect(drawn(edgesOver(sharp))).toBeGreaterThanOrEqual(38);
    const blurred = picture(40, 40, (x) => Array(3).fill(40 + 4 * x) as number[]);
    expect(drawn(edgesOver(blurred))).toBe(0);
    let seed = 7;
    const random = () => (seed = (seed * 16807) % 2147483647) / 2147483647;
    const noise = picture(80, 80, () => Array(3).fill(100 + 30 * (random() - 0.5)) as number[]);
    expect(drawn(edgesOver(noise))).toBeLessThan(10);
    // Strong noise on one side only, as in shadows that were lifted, must not count as edges there.
    const lopsided = picture(80, 80, (x) =>
      x < 40 ? [200, 200, 200] : (Array(3).fill(40 + 24 * (random() - 0.5)) as number[]),
    );
    const found = drawn(edgesOver(lopsided));
    expect(found).toBeGreaterThan(70);
    expect(found).toBeLessThan(220);
  });
});
