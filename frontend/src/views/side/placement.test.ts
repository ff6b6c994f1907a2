import { describe, expect, it } from 'vitest';

import type { Beside } from '../../api/client';
import type { Frame } from '../../state/frames';
import { centreOf, exposureWords, eyesOf, focusWords, lookFor } from './placement';

const FRAME: Frame = {
  id: 1,
  name: 'QH_0001',
  kind: 'jpeg',
  state: 2,
  picture: 2,
  key: 'k',
  missing: false,
  notice: '',
  shotAt: 0,
  width: 3000,
  height: 2000,
  group: 0,
  turned: 0,
  held: false,
  movedOut: false,
  blur: 1,
};
const PLACE: Beside = {
  frame: 1,
  x: 0.5,
  y: 0.25,
  scale: 1,
  angle: 0,
  confidence: 0.9,
  sure: true,
  blur: 1.24,
  rank: 1,
  of: 6,
  tie: false,
  clipped_high: 0.034,
  clipped_low: 0,
  darker_ev: -0.2,
  faces: null,
  closed: null,
  eyes_blur: null,
  radius: 100,
};

describe('centreOf', () => {
  it('adds the common shift and the frame’s own nudge, in px at 100 %', () => {
    const centre = centreOf(FRAME, PLACE, { x: 300, y: 0 }, { x: 0, y: -200 });
    expect(centre.x).toBeCloseTo(0.6);
    expect(centre.y).toBeCloseTo(0.15);
    expect(centreOf(FRAME, undefined, { x: 0, y: 0 })).toEqual({ x: 0.5, y: 0.5 });
  });

  it('is where the next lock looks, in the upright picture, whatever way the frame is turned', () => {
    for (const turned of [0, 1, 2, 3]) {
      const point = lookFor({ ...FRAME, turned }, PLACE, { x: 0, y: 0 });
      expect(point.x).toBeCloseTo(0.5);
      expect(point.y).toBeCloseTo(0.25);
    }
    expect(lookFor(FRAME, PLACE, { x: 9000, y: 0 }).x).toBe(1);
  });
});

describe('what is said of a frame', () => {
  it('gives the figure and the rank, and says ties', () => {
    expect(focusWords(PLACE)).toBe('1.2 px · sharpest of 6');
    expect(focusWords({ ...PLACE, tie: true })).toBe('1.2 px · tied 1st of 6');
    expect(focusWords({ ...PLACE, rank: 2 })).toBe('1.2 px · 2nd of 6');
    expect(focusWords({ ...PLACE, rank: 11, of: 12, tie: true })).toBe('1.2 px · 11th of 12');
    expect(focusWords({ ...PLACE, blur: null })).toBe('');
    expect(focusWords(undefined)).toBe('');
  });

  it('names clipping and a darker frame, and nothing else', () => {
    const limits = { clipped: 3, dark: 1 };
    expect(exposureWords(PLACE, limits)).toEqual(['3 % clipped']);
    expect(exposureWords(PLACE, { ...limits, clipped: 3.5 })).toEqual([]);
    expect(exposureWords({ ...PLACE, clipped_high: 0, darker_ev: 2.13 }, limits)).toEqual([
      '2.1 EV darker',
    ]);
    expect(exposureWords({ ...PLACE, clipped_high: 0, darker_ev: 2.13 }, limits, 300)).toEqual([
      '−2.1 EV',
    ]);
  });
});

describe('focusWords in narrow tiles', () => {
  it('say the place in short, then only the figure', () => {
    expect(focusWords(PLACE, 300)).toBe('1.2 px · 1st');
    expect(focusWords({ ...PLACE, tie: true }, 300)).toBe('1.2 px · =1st');
    expect(focusWords(PLACE, 200)).toBe('1.2 px');
  });
});

describe('eyesOf', () => {
  const eyes = (faces: number | null, closed: number | null, eyes_blur: number | null) =>
    eyesOf({ ...PLACE, faces, closed, eyes_blur }, 3);

  it('says by shape and word what a person looks for first', () => {
    expect(eyes(1, 0, 1.2)).toEqual({ look: 'open', words: 'open' });
    expect(eyes(1, 1, 1.2)).toEqual({ look: 'closed', words: 'closed' });
    expect(eyes(3, 2, 5)).toEqual({ look: 'closed', words: '2/3 closed' });
    expect(eyes(2, 0, 3)).toEqual({ look: 'soft', words: 'soft' });
  });

  it('says nothing where there is no face, or none was looked for', () => {
    expect(eyes(0, 0, null)).toBeNull();
    expect(eyes(null, null, null)).toBeNull();
    expect(eyesOf(undefined, 3)).toBeNull();
  });
});
