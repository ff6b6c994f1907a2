/** Key sets: the standard keys of the commands and what a person changed of them. */
import { t } from '@lingui/core/macro';

import { ALL, appliesIn, type Command } from './command';

/** For a command by its id, all of its keys; those left out keep their standard ones. */
export type Keys = Readonly<Record<string, readonly string[]>>;

export function withKeys(commands: readonly Command[], keys: Keys): readonly Command[] {
  return commands.map((command) =>
    keys[command.id] ? { ...command, keys: keys[command.id]! } : command,
  );
}

/** Whether two commands can be run in the same place. */
export function meet(one: Command, other: Command): boolean {
  return ALL.some((view) => appliesIn(one, view) && appliesIn(other, view));
}

/**
 * The other commands that a chord runs where this one would. `commands` have their present keys.
 */
export function takenBy(commands: readonly Command[], id: string, chord: string): Command[] {
  const command = commands.find((command) => command.id === id);
  if (!command) return [];
  return commands.filter(
    (other) => other.id !== id && other.keys.includes(chord) && meet(command, other),
  );
}

function keysOf(commands: readonly Command[], id: string): readonly string[] {
  return commands.find((command) => command.id === id)?.keys ?? [];
}

/** Give a command another key, and take it from those that had it. */
export function given(commands: readonly Command[], keys: Keys, id: string, chord: string): Keys {
  const present = withKeys(commands, keys);
  const taken = Object.fromEntries(
    takenBy(present, id, chord).map((other) => [
      other.id,
      other.keys.filter((key) => key !== chord),
    ]),
  );
  const chords = keysOf(present, id);
  const all = { ...keys, ...taken, [id]: chords.includes(chord) ? chords : [...chords, chord] };
  return onlyChanged(commands, all);
}

/** Give a command another key instead of one of its own, which those that had the new one get. */
export function swapped(
  commands: readonly Command[],
  keys: Keys,
  id: string,
  chord: string,
  instead: string,
): Keys {
  const others = takenBy(withKeys(commands, keys), id, chord);
  let next = given(commands, without(commands, keys, id, instead), id, chord);
  const heir = others[0];
  if (heir && !takenBy(withKeys(commands, next), heir.id, instead).length) {
    next = given(commands, next, heir.id, instead);
  }
  return next;
}

/** Take a key from a command. */
export function without(commands: readonly Command[], keys: Keys, id: string, chord: string): Keys {
  const chords = keysOf(withKeys(commands, keys), id).filter((key) => key !== chord);
  return onlyChanged(commands, { ...keys, [id]: chords });
}

/** Give a command its standard keys back; what has them now loses them. */
export function reset(commands: readonly Command[], keys: Keys, id: string): Keys {
  const standard = keysOf(commands, id);
  const rest = Object.fromEntries(Object.entries(keys).filter(([name]) => name !== id));
  return standard.reduce<Keys>((all, chord) => given(commands, all, id, chord), rest);
}

/** Without what equals the standard keys, so that later standard keys are taken over. */
function onlyChanged(commands: readonly Command[], keys: Keys): Keys {
  return Object.fromEntries(
    Object.entries(keys).filter(([id, own]) => own.join(' ') !== keysOf(commands, id).join(' ')),
  );
}

/** Keys that two commands have in one place: a chord with the ids of both. None, in a good set. */
export function clashes(commands: readonly Command[]): { chord: string; ids: string[] }[] {
  const pairs: { chord: string; ids: string[] }[] = [];
  for (const [n, command] of commands.entries()) {
    for (const other of commands.slice(n + 1)) {
      if (!meet(command, other)) continue;
      for (const chord of command.keys) {
        if (other.keys.includes(chord)) pairs.push({ chord, ids: [command.id, other.id] });
      }
    }
  }
  return pairs;
}

const KIND = 'winnow key set';

/** A key set as the text of a file. */
export function toFile(name: string, keys: Keys): string {
  return `${JSON.stringify({ kind: KIND, version: 1, name, keys }, null, 2)}\n`;
}

/**
 * Read what `toFile` wrote. Commands that this Winnow doesn't have are left out; a key that two
 * commands would have stays with the first. Throws an Error in plain words.
 */
export function fromFile(
  text: string,
  commands: readonly Command[],
): { name: string; keys: Keys; left: string[] } {
  let content: unknown;
  try {
    content = JSON.parse(text);
  } catch {
    throw new Error('This is not a key set: the file is not JSON.');
  }
  const { kind, version, name, keys } = (content ?? {}) as Record<string, unknown>;
  if (kind !== KIND || typeof keys !== 'object' || keys === null) {
    throw new Error('This file holds no key set.');
  }
  if (version !== 1) throw new Error('This key set was written by a newer Winnow.');
  const left: string[] = [];
  let set: Keys = {};
  const wanted = Object.entries(keys as Record<string, unknown>).filter(([id, own]) => {
    const good =
      commands.some((command) => command.id === id) &&
      Array.isArray(own) &&
      own.every((chord) => typeof chord === 'string' && chord.length > 0 && chord.length < 40);
    if (!good) left.push(id);
    return good;
  }) as [string, string[]][];
  // All standard keys of these go first, so that a swap within the file is not taken for a clash.
  set = onlyChanged(commands, Object.fromEntries(wanted.map(([id]) => [id, []])));
  for (const [id, own] of wanted) {
    set = { ...set, [id]: [] };
    for (const chord of own) {
      if (wanted.some(([other]) => other !== id && holds(commands, set, other, id, chord))) {
        left.push(`${id} ${chord}`);
      } else {
        set = given(commands, set, id, chord);
      }
    }
  }
  return {
    name: typeof name === 'string' && name ? name.slice(0, 60) : t`My keys`,
    keys: onlyChanged(commands, set),
    left,
  };
}

function holds(
  commands: readonly Command[],
  keys: Keys,
  other: string,
  id: string,
  chord: string,
): boolean {
  return takenBy(withKeys(commands, keys), id, chord).some((command) => command.id === other);
}
