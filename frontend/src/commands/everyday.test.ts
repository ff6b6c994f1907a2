import { expect, it } from 'vitest';

import { EVERYDAY } from './everyday';
import { commandsFor } from './registry';

const commands = commandsFor([]);
const found = (word: string) =>
  commands
    .filter(({ id, title }) =>
      `${title} ${EVERYDAY[id] ?? ''}`.toLowerCase().includes(word.toLowerCase()),
    )
    .map(({ id }) => id);

it('names only commands that there are', () => {
  const ids = new Set(commands.map(({ id }) => id));
  expect(Object.keys(EVERYDAY).filter((id) => !ids.has(id))).toEqual([]);
});

it.each([
  ['zoom', 'look-close'],
  ['rotate', 'turn-left'],
  ['compare', 'side'],
  ['export', 'to-folder'],
  ['delete', 'go-set-aside'],
  ['deliver', 'go-deliver'],
  ['rename', 'go-rename'],
  ['copy', 'copy-paths'],
  ['help', 'keys'],
  ['help', 'tour'],
])('finds by “%s” what it stands for', (word, command) => {
  expect(found(word)).toContain(command);
});
