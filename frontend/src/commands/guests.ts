/** What a guest's keyboard does: looking always, marking and writing where the owner lets them. */
import type { Guest } from '../state/sharing';
import type { Command } from './command';

/** What changes the shoot for everybody, or is the owner's own. */
const OWNERS: ReadonlySet<string> = new Set([
  'history',
  'way',
  'labels',
  'key-editor',
  'pace',
  'look-again',
  'stop',
  'share',
  'to-folder',
  'to-program',
  'copy-paths',
  'turn-left',
  'turn-right',
  'hints',
  'wrap-up',
  'clocks',
  'people',
  'groups',
  'split-group',
  'join-group',
  'to-group-before',
  'to-group-after',
  'own-group',
  'link',
  'tighter',
  'looser',
]);
const MARKING: ReadonlySet<string> = new Set([
  'after',
  'after-grade',
  'reject-rest',
  'carry',
  'knockout',
]);
const UNDOING: ReadonlySet<string> = new Set(['undo', 'redo']);

/** The commands that somebody has; `guest`: null for the owner, who has all. */
export function forGuest(commands: readonly Command[], guest: Guest | null): readonly Command[] {
  if (!guest) return commands;
  return commands.filter(({ id, edit }) => {
    if (OWNERS.has(id) || /^(review|number)/.test(id)) return false;
    if (edit || MARKING.has(id) || id.startsWith('keep-only')) return guest.mark;
    if (UNDOING.has(id)) return guest.mark || guest.caption;
    return id !== 'captions' || guest.caption;
  });
}
