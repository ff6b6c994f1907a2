import type { Face } from '../state/faces';

/** A face that looks at the camera, eyes open, with changes. */
export const face = (changes: Partial<Face> = {}): Face => ({
  frame: 1,
  box: [0.4, 0.4, 0.5, 0.6],
  eyes: [
    { x: 0.42, y: 0.5, open: 0.9, gap: 0.3, blur: 2 },
    { x: 0.48, y: 0.5, open: 0.9, gap: 0.3, blur: 1 },
  ],
  turned: 3,
  blur: 1,
  eyes_closed: false,
  eyes_soft: false,
  eyes_half: false,
  looks_away: false,
  mid_speech: null,
  smiles: null,
  head_turned: false,
  counts: true,
  weight: '',
  judged_px: null,
  ...changes,
});
