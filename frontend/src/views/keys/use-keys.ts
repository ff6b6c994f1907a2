import { useEffect, useRef } from 'react';

import { chordOf, chordsOf, isTyping, withoutAlt } from '../../commands/keys';
import { type Command } from '../../commands/command';
import { commandFor } from '../../commands/registry';
import type { Stage } from '../../commands/stage';
import { hold, release } from '../../state/held-key';
import { inTurn } from '../../state/in-turn';
import { listComing } from '../../state/sync';

const HOLD_MS = 300;
/** What is looked at only as long as the key is held, if it is held. */
const GLANCES = new Set(['look-close', 'look-closer']);

/** What acts on the frames of a list: it waits for a list that is on its way. */
const ON_LIST = new Set<Command['section']>(['Mark', 'Move', 'Select', 'Compare']);
/** What opens something to type into: the letters after it are no commands, so it waits for nothing. */
const OPENS = new Set(['history', 'way', 'labels', 'filter', 'filter-text']);

const turn = inTurn(listComing);

/** Run a command, after those that were pressed before it. */
function run(command: Command, act: () => void): void {
  const { id, section } = command;
  const waits = ON_LIST.has(section) || (section === 'Filter' && turn.isWaiting());
  if (waits && !OPENS.has(id)) turn.do(act);
  else act();
}

/** Run commands by their keys, unless something else is typed in. */
export function useKeys(
  commands: readonly Command[],
  stage: Stage,
  suspended: boolean,
  endGlance: () => void,
): void {
  const glance = useRef<{ code: string; since: number } | null>(null);
  // What waited for a list acts in the view that is there then.
  const latest = useRef(stage);
  useEffect(() => {
    latest.current = stage;
  }, [stage]);
  useEffect(() => {
    if (suspended) return;
    const pressed = (event: KeyboardEvent) => {
      const chord = chordOf(event);
      if (event.defaultPrevented || (isTyping(event.target) && chord !== 'Ctrl+K')) return;
      const onButton =
        event.target instanceof HTMLButtonElement ||
        event.target instanceof HTMLAnchorElement ||
        event.target instanceof HTMLInputElement;
      // A focused button keeps its own keys.
      if (onButton && (chord === 'Space' || chord === 'Enter')) return;
      const command = commandFor(commands, chordsOf(event), stage.view);
      const turned = command ? undefined : withoutAlt(chord);
      const marks = turned && commandFor(commands, [turned], stage.view)?.edit;
      if (marks) {
        event.preventDefault();
        if (!event.repeat) turn.do(() => latest.current.mark(marks, true));
      }
      if (!command) return;
      event.preventDefault();
      if (event.repeat && !command.repeats) return;
      if (command.edit) hold(command.edit, event.code);
      if (GLANCES.has(command.id)) glance.current = { code: event.code, since: event.timeStamp };
      run(command, () => command.run(latest.current));
    };
    const released = (event: KeyboardEvent) => {
      release(event.code);
      const held = glance.current;
      if (held?.code !== event.code) return;
      glance.current = null;
      if (event.timeStamp - held.since > HOLD_MS) endGlance();
    };
    const left = () => release();
    window.addEventListener('keydown', pressed);
    window.addEventListener('keyup', released);
    window.addEventListener('blur', left);
    return () => {
      window.removeEventListener('keydown', pressed);
      window.removeEventListener('keyup', released);
      window.removeEventListener('blur', left);
    };
  }, [commands, stage, suspended, endGlance]);
}
