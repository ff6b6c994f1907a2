import { describe, expect, it } from 'vitest';

import type { Label } from '../api/client';
import { takenBy } from './key-set';
import { chordOf, chordsOf, isTyping, shown, withoutAlt } from './keys';
import { commandFor, commandsFor } from './registry';
import type { View } from './stage';

const plain = { ctrlKey: false, metaKey: false, altKey: false, shiftKey: false };

describe('chords', () => {
  it.each([
    [{ key: 'j' }, 'J'],
    [{ key: 'J', shiftKey: true }, 'Shift+J'],
    [{ key: '?', shiftKey: true }, '?'],
    [{ key: ' ' }, 'Space'],
    [{ key: 'z', ctrlKey: true }, 'Ctrl+Z'],
    [{ key: 'Z', metaKey: true, shiftKey: true }, 'Ctrl+Shift+Z'],
    [{ key: 'ArrowLeft', shiftKey: true }, 'Shift+ArrowLeft'],
    [{ key: 'ü' }, 'Ü'],
    // The place of a key counts where it prints no Latin letter, or figures only with Shift.
    [{ key: 'о', code: 'KeyJ' }, 'J'],
    [{ key: 'é', code: 'Digit2' }, '2'],
    [{ key: '2', code: 'Digit2', shiftKey: true }, '2'],
    [{ key: 'q', code: 'KeyA' }, 'Q'],
    [{ key: '∆', code: 'KeyJ', altKey: true }, 'Alt+J'],
    [{ key: '+' }, '+'],
  ])('%o is %s', (event, chord) => {
    expect(chordOf({ ...plain, ...event })).toBe(chord);
  });

  it('says with Shift on a figure also the figure, as keyboards print different signs there', () => {
    const held = { ...plain, shiftKey: true };
    expect(chordsOf({ ...held, key: '!', code: 'Digit1' })).toEqual(['!', 'Shift+1']);
    expect(chordsOf({ ...held, key: '/', code: 'Digit7' })).toEqual(['/', 'Shift+7']);
    expect(chordsOf({ ...plain, key: '1', code: 'Digit1' })).toEqual(['1']);
    // What applies here comes first: the slash types a filter in the sheet, and is a place side by
    // side.
    const commands = commandsFor([]);
    expect(commandFor(commands, ['/', 'Shift+7'], 'sheet')?.id).toBe('filter-text');
    expect(commandFor(commands, ['/', 'Shift+7'], 'side')?.id).toBe('keep-only-7');
  });

  it('knows the key under Alt', () => {
    expect(withoutAlt('Alt+J')).toBe('J');
    expect(withoutAlt('J')).toBeUndefined();
    expect(withoutAlt('Alt+Shift+J')).toBeUndefined();
  });

  it('are printed as on the keyboard', () => {
    expect(shown('Ctrl+ArrowUp')).toBe('Ctrl ↑');
    expect(shown('Escape')).toBe('Esc');
    expect(shown('+')).toBe('+');
    expect(shown('Ctrl++')).toBe('Ctrl +');
  });

  it('are left to fields that are typed in', () => {
    const field = document.createElement('input');
    expect(isTyping(field)).toBe(true);
    field.type = 'checkbox';
    expect(isTyping(field)).toBe(false);
    field.type = 'range';
    expect(isTyping(field)).toBe(true);
    expect(isTyping(document.body)).toBe(false);
  });
});

// Named here once more: the type holds them to be views, the record that none is left out.
const NAMED: Record<View, true> = {
  sheet: true,
  frame: true,
  side: true,
  knockout: true,
  review: true,
  number: true,
  hints: true,
  'wrap-up': true,
};
const VIEWS = Object.keys(NAMED) as View[];

const labels: Label[] = [
  {
    letter: 'R',
    name: 'Retouch',
    meaning: 'needs work',
    shape: 'disc',
    colour: '#00609c',
    written_as: 'Retouch',
  },
];

describe('the registry', () => {
  const commands = commandsFor(labels);

  // By what is run in each view, not by what the key editor says of clashes.
  it.each(VIEWS)('gives every key to one command in %s', (view) => {
    const here = commands.filter((command) => !command.in || command.in.includes(view));
    const chords = here.flatMap((command) => command.keys);
    expect(chords.filter((chord, n) => chords.indexOf(chord) !== n)).toEqual([]);
  });

  it('tells every key given twice where both commands apply as a clash', () => {
    let pairs = 0;
    for (const first of commands) {
      for (const other of commands) {
        const together = VIEWS.some((view) =>
          [first, other].every((command) => !command.in || command.in.includes(view)),
        );
        if (first === other || !together) continue;
        const twice = commands.map((command) =>
          command === other ? { ...command, keys: ['€'] } : command,
        );
        expect(
          takenBy(twice, first.id, '€').map((command) => command.id),
          `${first.id} ${other.id}`,
        ).toEqual([other.id]);
        pairs += 1;
      }
    }
    expect(pairs).toBeGreaterThan(1000);
  });

  it('has every command once', () => {
    const ids = commands.map((command) => command.id);
    expect(ids).toEqual([...new Set(ids)]);
  });

  it('names labels', () => {
    const command = commandFor(commands, ['Y'], 'sheet');
    expect(command?.title).toBe('Label: Retouch');
  });

  it('marks nothing in the wrap-up', () => {
    expect(commandFor(commands, ['J'], 'wrap-up')).toBeUndefined();
  });
});
