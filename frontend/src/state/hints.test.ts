import { expect, test } from 'vitest';

import type { HintKind } from '../api/client';
import { figureWords, groupWords, namedBy, names, thresholdWords } from './hints';

const kind = (name: HintKind['name'], title: string, named: number[], fault = true): HintKind => ({
  name,
  title,
  meaning: '',
  figure: '',
  unit: ' %',
  decimals: 1,
  below: name === 'eyes_closed',
  fault,
  threshold: 16.5,
  usual: 16.5,
  least: 5,
  most: 25,
  named,
  decided: 0,
  disagreed: 0,
});

const BEST = kind('best', 'Best of its group', [1], false);
const SOFT = kind('soft', 'Soft', [1, 2, 3]);
const CLOSED = kind('eyes_closed', 'Eyes closed', [2]);

test('a group says what speaks against its frames, the most frequent first', () => {
  const named = namedBy([BEST, CLOSED, SOFT]);
  expect(groupWords([1, 2, 3, 4], named)).toBe('soft in 3, eyes closed in 1');
  expect(groupWords([1, 2, 3, 4], named, new Set(), 1)).toBe('soft in 3');
  expect(groupWords([1, 2], named, new Set([1, 2]))).toMatch(/^no usable frame, soft in 2/);
  expect(groupWords([4], named)).toBe('');
  expect(named.get(1)?.map((kind) => kind.name)).toEqual(['soft', 'best']);
});

test('figures and thresholds in words', () => {
  expect(figureWords(SOFT, 45)).toBe('45.0 %');
  expect(thresholdWords(SOFT, 25)).toBe('needs 25.0 %');
  expect(thresholdWords(CLOSED, 16.5)).toBe('needs at most 16.5 %');
  expect(names(SOFT, 16.5, 16.5)).toBe(true);
  expect(names(SOFT, 16.4, 16.5)).toBe(false);
  expect(names(CLOSED, 16.4, 16.5)).toBe(true);
  expect(names(CLOSED, 17, 16.5)).toBe(false);
});
