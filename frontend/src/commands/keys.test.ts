import { describe, expect, it } from 'vitest';

import type { Label } from '../api/client';
import { clashes } from './key-set';
import { chordOf, isTyping, shown } from './keys';
import { commandFor, commandsFor } from './registry';
import type { Stage } from './stage';

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

  it('gives every key to one command in each view', () => {
    expect(clashes(commands)).toEqual([]);
  });

  it('has every command once', () => {
    const ids = commands.map((command) => command.id);
    expect(ids).toEqual([...new Set(ids)]);
  });

  it('names labels', () => {
    const command = commandFor(commands, 'Y', { view: 'sheet' } as Stage);
    expect(command?.title).toBe('Label: Retouch');
  });

  it('marks nothing in the wrap-up', () => {
    expect(commandFor(commands, 'J', { view: 'wrap-up' } as Stage)).toBeUndefined();
  });
});
