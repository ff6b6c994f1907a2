import { expect, test } from 'vitest';

import type { Said } from '../api/client';
import { differing, partInWords, PARTS } from './mark-words';

const bare: Said = {
  mark: { decision: 'undecided', stars: 0, label: null },
  texts: {
    title: '',
    caption: '',
    keywords: [],
    creators: [],
    rights: '',
    location: '',
    city: '',
    state: '',
    country: '',
    instructions: '',
  },
};

test('every part is said in words, also where it says nothing', () => {
  for (const part of PARTS) expect(partInWords(bare, part, (letter) => letter)).not.toBe('');
});

test('what differs is named', () => {
  const other: Said = {
    mark: { decision: 'pick', stars: 0, label: 'A' },
    texts: { ...bare.texts, keywords: ['quay', 'dusk'] },
  };
  expect(differing(bare, other)).toEqual(['decision', 'label', 'keywords']);
  expect(partInWords(other, 'label', () => 'Album')).toBe('Album');
  expect(partInWords(other, 'keywords', () => '')).toBe('quay, dusk');
});
