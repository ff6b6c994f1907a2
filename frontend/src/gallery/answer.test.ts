import { describe, expect, it } from 'vitest';

import {
  asFile,
  commented,
  countInWords,
  fileName,
  flipped,
  NO_ANSWER,
  restored,
  type Proof,
} from './answer';

const PROOF: Proof = {
  token: 'abc',
  title: 'Quay / evening',
  greeting: '',
  wanted: 2,
  frames: [1, 2, 3].map((number) => ({ number, name: `QH_${number}`, width: 3, height: 2 })),
};

describe('an answer', () => {
  it('holds each choice once, in order, and forgets it again', () => {
    const both = flipped(flipped(NO_ANSWER, 3), 1);
    expect(both.picks).toEqual([1, 3]);
    expect(flipped(both, 3).picks).toEqual([1]);
  });

  it('drops a comment that is emptied', () => {
    const said = commented(NO_ANSWER, 2, 'lighter');
    expect(said.comments).toEqual({ '2': 'lighter' });
    expect(commented(said, 2, '  ').comments).toEqual({});
  });

  it('is a file with the proof’s token', () => {
    const answer = { ...commented(flipped(NO_ANSWER, 2), 2, ' crop \n'), client: ' Ann ' };
    expect(JSON.parse(asFile(PROOF, answer))).toMatchObject({
      kind: 'proof answer',
      proof: 'abc',
      client: 'Ann',
      picks: [2],
      comments: { '2': 'crop' },
    });
    expect(fileName(PROOF, answer)).toBe('answer - Quay - evening - Ann.json');
  });

  it('comes back after the window was closed, without what is no longer there', () => {
    const kept = JSON.stringify({ picks: [1, 9], comments: { 2: 'a', 9: 'b' }, client: 'Ann' });
    expect(restored(kept, PROOF)).toEqual({
      client: 'Ann',
      note: '',
      picks: [1],
      comments: { '2': 'a' },
    });
    expect(restored('{"picks": 3', PROOF)).toEqual(NO_ANSWER);
    expect(restored(null, PROOF)).toEqual(NO_ANSWER);
  });

  it('says how far it is', () => {
    const picks = [1, 2, 3];
    expect(countInWords({ ...NO_ANSWER, picks }, null)).toBe('3 chosen');
    expect(countInWords({ ...NO_ANSWER, picks }, 2)).toBe('3 of 2 chosen, 1 too many');
  });
});
