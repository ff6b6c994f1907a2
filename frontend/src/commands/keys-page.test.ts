import { expect, test } from 'vitest';

import { SECTIONS, whereWords, type Command } from './command';
import { shown } from './keys';
import { commandsFor } from './registry';

const LABELS = ['First', 'Second', 'Third', 'Fourth', 'Fifth'].map((name) => ({
  letter: name.charAt(0),
  name: `${name.toLowerCase()} of the set`,
  meaning: '',
  shape: 'disc' as const,
  colour: '#000000',
  written_as: name,
}));

const HEAD = `# Keys

The standard key set, made from the register of commands. **?** shows the keys of now, **Ctrl+K** finds any command; “Change
keys” gives each command other keys, swaps, names, saves and prints sets, and takes them from files.

Keys lie where both hands rest. A key that does one thing in one view can do another in a view where the first makes no
sense. Letters count by what is printed on them; on keyboards without Latin letters by their place.

Held with **Alt**, a key that marks one frame goes the other way for this once: it stays where it would go on, and goes on where it
would stay.
`;

const cell = (text: string) => text.replaceAll('|', '\\|');
const row = (command: Command) =>
  `| ${command.keys.map((key) => `**${cell(shown(key))}**`).join(' ')} | ${cell(command.title)} | ${whereWords(
    command,
  )} |`;

test('docs/keys.md tells every command and its keys', async () => {
  const all = commandsFor(LABELS);
  const parts = Object.entries(SECTIONS).map(
    ([section, words]) =>
      `## ${words}\n\n| keys | command | where, if not everywhere |\n|---|---|---|\n` +
      all
        .filter((command) => command.section === section)
        .map(row)
        .join('\n') +
      '\n',
  );
  // `npx vitest run -u` writes it anew.
  await expect([HEAD, ...parts].join('\n')).toMatchFileSnapshot('../../../docs/keys.md');
});
