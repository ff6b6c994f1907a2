import { expect, it } from 'vitest';

import { commandsFor } from './registry';
import { forGuest } from './guests';

const LABELS = [
  { letter: 'A', name: 'Album', shape: 'disc', colour: '#000000', text: '' },
] as never;
const all = commandsFor(LABELS);
const ids = (mark: boolean, caption: boolean) =>
  new Set(forGuest(all, { name: 'Ana', mark, caption }).map(({ id }) => id));

it('leaves the owner everything', () => {
  expect(forGuest(all, null)).toBe(all);
});

it('lets guests look, whatever else they may', () => {
  const looking = ids(false, false);
  for (const id of ['next', 'look-close', 'side', 'filter', 'search', 'keys', 'select-group'])
    expect(looking).toContain(id);
  for (const id of [
    'pick',
    'stars-3',
    'label-1',
    'undo',
    'captions',
    'wrap-up',
    'history',
    'share',
    'people',
  ])
    expect(looking).not.toContain(id);
});

it('lets them mark and write where they may, and undo that', () => {
  expect(ids(true, false)).toContain('pick');
  expect(ids(true, false)).toContain('undo');
  expect(ids(true, false)).not.toContain('captions');
  expect(ids(false, true)).toContain('captions');
  expect(ids(false, true)).toContain('undo');
  expect(ids(false, true)).not.toContain('pick');
});

it('names only commands that there are', () => {
  const known = new Set(all.map(({ id }) => id));
  const nobody = ids(false, false);
  const hidden = [...known].filter((id) => !nobody.has(id));
  // All of the list, the review, the way to the number, and the marks with what goes with them.
  expect(hidden).toHaveLength(26 + 9 + 6 + 3 + 6 + 1 + 4 + 1 + 10 + 2 + 1);
});
