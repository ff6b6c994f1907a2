import { describe, expect, it } from 'vitest';

import {
  clashes,
  fromFile,
  given,
  reset,
  swapped,
  takenBy,
  toFile,
  withKeys,
  without,
  type Keys,
} from './key-set';
import { commandsFor } from './registry';

const commands = commandsFor([]);
const keysOf = (keys: Keys, id: string) =>
  withKeys(commands, keys).find((command) => command.id === id)!.keys;

/** Repeatable numbers from 0 to 1 (Park and Miller 1988). */
function dice(seed: number): () => number {
  let state = seed;
  return () => (state = (state * 16807) % 2147483647) / 2147483647;
}

describe('a key set', () => {
  it('never holds two commands on one key in one place, whatever is done to it', () => {
    const chords = ['A', 'G', 'J', 'L', 'Shift+D', 'Ctrl+Z', '1', 'ArrowLeft', 'Z', '€'];
    for (let seed = 1; seed <= 20; seed += 1) {
      const random = dice(seed);
      const any = <T>(list: readonly T[]): T => list[Math.floor(random() * list.length)]!;
      let keys: Keys = {};
      for (let n = 0; n < 30; n += 1) {
        const { id } = any(commands);
        const own = keysOf(keys, id);
        const what = random();
        if (what < 0.4) keys = given(commands, keys, id, any(chords));
        else if (what < 0.7 && own.length) {
          keys = swapped(commands, keys, id, any(chords), any(own));
        } else if (what < 0.85 && own.length) keys = without(commands, keys, id, any(own));
        else keys = reset(commands, keys, id);
        expect(clashes(withKeys(commands, keys))).toEqual([]);
      }
      const back = fromFile(toFile('Mine', keys), commands);
      expect(back.keys).toEqual(keys);
      expect(back.left).toEqual([]);
    }
  });

  it('says what has a key now, and only where both can be run', () => {
    expect(takenBy(commands, 'pick', 'J').map((command) => command.id)).toEqual(['reject']);
    // Folding is for the sheet, the glass for frame view.
    expect(takenBy(commands, 'fold', 'G')).toEqual([]);
  });

  it('swaps keys, so that no command goes without', () => {
    const keys = swapped(commands, {}, 'pick', 'J', 'L');
    expect(keysOf(keys, 'pick')).toEqual(['J']);
    expect(keysOf(keys, 'reject')).toEqual(['L']);
  });

  it('gives a command several keys, and its standard ones back', () => {
    const keys = given(commands, given(commands, {}, 'pick', 'ü'), 'pick', 'Ctrl+Q');
    expect(keysOf(keys, 'pick')).toEqual(['L', 'ü', 'Ctrl+Q']);
    expect(reset(commands, keys, 'pick')).toEqual({});
  });

  it('keeps nothing that is standard, so that later standards are taken over', () => {
    expect(given(commands, without(commands, {}, 'pick', 'L'), 'pick', 'L')).toEqual({});
  });

  it('from a file leaves out what does not fit, and says so', () => {
    const text = JSON.stringify({
      kind: 'winnow key set',
      version: 1,
      name: 'Left hand',
      keys: { pick: ['X', 'J'], reject: ['J'], 'no-such': ['Q'], undo: 'Ctrl+Y' },
    });
    const found = fromFile(text, commands);
    expect(found.name).toBe('Left hand');
    expect(found.left).toContain('no-such');
    expect(found.left).toContain('undo');
    expect(clashes(withKeys(commands, found.keys))).toEqual([]);
    expect(() => fromFile('{', commands)).toThrow('not JSON');
    expect(() => fromFile('{"kind": "other"}', commands)).toThrow('no key set');
    expect(() => fromFile('null', commands)).toThrow('no key set');
    expect(() => fromFile(text.replace('1', '9'), commands)).toThrow('newer');
  });
});
