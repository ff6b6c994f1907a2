import { describe, expect, it } from 'vitest';

import type { Beside } from '../../api/client';
import type { Frame } from '../../state/frames';
import { allSmile, centreOf, exposureWords, eyesOf, focusWords, lookFor } from './placement';

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
  standing: { blur: 1.24, state: 'tied', words: 'as sharp as 3 others', short: 'sharp' },
  judged: true,
  clipped_high: 0.034,
  clipped_low: 0,
  ev: null,
  faces: null,
  closed: null,
  smiling: null,
  eyes_blur: null,
  radius: 100,
};

const NO_EDGE = {
  blur: null,
  state: 'no edge' as const,
  words: 'no edge to measure',
  short: 'no edge',
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
  it('gives the figure and how it stands; without an edge there is no figure', () => {
    expect(focusWords(PLACE)).toBe('1.2 px · as sharp as 3 others');
    expect(focusWords({ ...PLACE, standing: NO_EDGE })).toBe('no edge to measure');
    expect(focusWords({ ...PLACE, standing: { ...PLACE.standing, words: '' } })).toBe('1.2 px');
    expect(focusWords(undefined)).toBe('');
    const elsewhere = { ...PLACE, judged: false };
    expect(focusWords(elsewhere)).toBe('here 1.2 px · as sharp as 3 others');
  });

  it('names clipping and a darker frame, and nothing else', () => {
    expect(exposureWords(PLACE, 3)).toEqual(['3 % clipped']);
    expect(exposureWords(PLACE, 3.5)).toEqual([]);
    const dark = { ...PLACE, clipped_high: 0, ev: -2.13 };
    expect(exposureWords(dark, 3)).toEqual(['2.1 EV darker']);
    expect(exposureWords({ ...dark, ev: 1.5 }, 3)).toEqual(['1.5 EV brighter']);
    expect(exposureWords(dark, 3, 300)).toEqual(['−2.1 EV']);
  });
});

describe('focusWords in narrow tiles', () => {
  it('say the place in short, then only the figure', () => {
    expect(focusWords(PLACE, 300)).toBe('1.2 px · sharp');
    expect(focusWords({ ...PLACE, standing: NO_EDGE }, 200)).toBe('no edge');
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
    const half = eyesOf({ ...PLACE, faces: 2, closed: 0, eyes_blur: 1 }, 3, true);
    expect(half).toEqual({ look: 'half', words: 'half closed' });
  });

  it('says nothing where there is no face, or none was looked for', () => {
    expect(eyes(0, 0, null)).toBeNull();
    expect(eyes(null, null, null)).toBeNull();
    expect(eyesOf(undefined, 3)).toBeNull();
  });
});

it('a frame smiles where everybody in it does', () => {
  expect(allSmile(PLACE)).toBe(false);
  expect(allSmile({ faces: 1, smiling: 1 })).toBe(true);
  expect(allSmile({ faces: 3, smiling: 2 })).toBe(false);
});
