import { t } from '@lingui/core/macro';
import { createContext, useContext } from 'react';

import { shown } from '../commands/keys';
import type { Command } from '../commands/command';

/** The commands with the person's keys, for what says its key. */
export const CommandsKnown = createContext<readonly Command[]>([]);

/** What stands where a pointer rests on a control: words, with the key of the command. */
export function useTitle(): (words: string, command: string) => string {
  const commands = useContext(CommandsKnown);
  return (words, command) => {
    const key = commands.find(({ id }) => id === command)?.keys[0];
    return key ? t`${words} (${shown(key)})` : words;
  };
}

/** A key as it looks on the keyboard. */
export function KeyCap({ chord }: { chord: string }) {
  return (
    <kbd className="inline-flex h-6 min-w-6 shrink-0 items-center justify-center rounded border border-line border-b-2 bg-paper px-1.5 font-sans text-xs font-semibold text-ink">
      {shown(chord)}
    </kbd>
  );
}

/** The first key of a command, if it has one. */
export function Cap({ of, commands }: { of: string; commands: readonly Command[] }) {
  const chord = commands.find((command) => command.id === of)?.keys[0];
  return chord ? <KeyCap chord={chord} /> : null;
}

/** A small button on the stage that says its key. */
export function Act({
  of,
  commands,
  children,
  onClick,
}: {
  of: string;
  commands: readonly Command[];
  children: React.ReactNode;
  onClick: () => void;
}) {
  return (
    <button
      type="button"
      className="flex items-center gap-1.5 pointer-coarse:min-h-11"
      // The keys stay with the stage.
      onMouseDown={(event) => event.preventDefault()}
      onClick={onClick}
    >
      <Cap of={of} commands={commands} /> {children}
    </button>
  );
}
