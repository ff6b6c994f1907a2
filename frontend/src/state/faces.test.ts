import { expect, test } from 'vitest';

import { face } from '../testing/face';
import { eyesWords, nextRow, pointOf, signsOf } from './faces';

test('eyes in words', () => {
  expect(eyesWords(face())).toBe('open');
  expect(eyesWords(face({ eyes_closed: true, eyes_soft: true }))).toBe('closed');
  expect(eyesWords(face({ eyes_soft: true }))).toBe('soft');
  expect(eyesWords(face({ eyes_half: true }))).toBe('half closed');
  expect(eyesWords(face({ eyes_closed: null, turned: -50 }))).toBe('turned away');
});

test('what a face shows beside its eyes', () => {
  expect(signsOf(face())).toEqual([]);
  expect(signsOf(face({ looks_away: true, mid_speech: true }))).toEqual(['gaze', 'speech']);
  expect(signsOf(face({ smiles: true }))).toEqual(['smile']);
  expect(signsOf(face({ smiles: false }))).toEqual([]);
  expect(signsOf(face({ head_turned: true, turned: -24 }))).toEqual(['left']);
  expect(signsOf(face({ head_turned: true, turned: 24 }))).toEqual(['right']);
});

test('the sharper eye is looked at', () => {
  expect(pointOf(face())).toEqual({ x: 0.48, y: 0.5 });
});

test('stepping passes over faces that a frame does not show', () => {
  const seen = [
    [face(), null],
    [null, face()],
    [face(), face()],
  ];
  const rows = seen.map((faces) => ({ faces, best: [] }));
  const table = { frames: [7, 8], rows };
  expect(nextRow(table, 7, -1, 1)).toBe(0);
  expect(nextRow(table, 7, 0, 1)).toBe(2);
  expect(nextRow(table, 7, 2, 1)).toBe(0);
  expect(nextRow(table, 8, -1, -1)).toBe(2);
  expect(nextRow({ frames: [7], rows: [] }, 7, 0, 1)).toBe(null);
});
