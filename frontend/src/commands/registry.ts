/** Every command: what it is called, its keys, when it applies, and what it does. */
import { t } from '@lingui/core/macro';

import type { Label } from '../api/client';
import { appliesIn, PASS, SHEET, SHOW, STEP, type Command } from './command';
import { COMPARING, GROUPING, REVIEWING, TO_NUMBER } from './comparing';
import { LOOKING } from './looking';
import type { View } from './stage';
import { counted } from '../texts/numbers';

/** The standard keys of up to nine labels: under the right hand, then the free figures. */
export const LABEL_KEYS = ['Y', 'U', 'I', 'O', 'P', '6', '7', '8', '9'] as const;

/** The commands, the labels among them by their own names. */
export function commandsFor(labels: readonly Label[]): readonly Command[] {
  return [
    {
      id: 'reject',
      title: t`Reject`,
      section: 'Mark',
      keys: ['J'],
      in: SHOW,
      edit: { decision: 'reject' },
      run: (s) => s.mark({ decision: 'reject' }),
    },
    {
      id: 'undecide',
      title: t`Leave undecided`,
      section: 'Mark',
      keys: ['K'],
      in: SHOW,
      edit: { decision: 'undecided' },
      run: (s) => s.mark({ decision: 'undecided' }),
    },
    {
      id: 'pick',
      title: t`Pick`,
      section: 'Mark',
      keys: ['L'],
      in: SHOW,
      edit: { decision: 'pick' },
      run: (s) => s.mark({ decision: 'pick' }),
    },
    ...[0, 1, 2, 3, 4, 5].map((stars): Command => ({
      id: `stars-${stars}`,
      title: stars === 0 ? t`No stars` : counted(stars, 'star'),
      section: 'Mark',
      keys: [String(stars)],
      in: SHOW,
      edit: { stars },
      run: (s) => s.mark({ stars }),
    })),
    ...labels.slice(0, LABEL_KEYS.length).map((label, n): Command => ({
      id: `label-${n + 1}`,
      title: t`Label: ${label.name}`,
      section: 'Mark',
      keys: [LABEL_KEYS[n]!],
      in: SHOW,
      edit: { label: label.letter },
      run: (s) => s.mark({ label: label.letter }),
    })),
    {
      id: 'undo',
      title: t`Undo`,
      section: 'Mark',
      keys: ['Ctrl+Z'],
      repeats: true,
      run: (s) => s.walk('undo'),
    },
    {
      id: 'redo',
      title: t`Redo`,
      section: 'Mark',
      keys: ['Ctrl+Shift+Z'],
      repeats: true,
      run: (s) => s.walk('redo'),
    },
    {
      id: 'history',
      title: t`History: go back to any step`,
      section: 'Mark',
      keys: ['Shift+Z'],
      run: (s) => s.openPanel('history'),
    },
    {
      id: 'way',
      title: t`First pass: pick in or weed out`,
      section: 'Mark',
      keys: [],
      in: PASS,
      run: (s) => s.openPanel('way'),
    },
    {
      id: 'labels',
      title: t`Labels and their meanings`,
      section: 'Mark',
      keys: ['Shift+Y'],
      run: (s) => s.openPanel('labels'),
    },
    {
      id: 'after',
      title: t`What happens after a decision`,
      section: 'Mark',
      keys: ['T'],
      run: (s) => s.cycleAfter('decision'),
    },
    {
      id: 'after-grade',
      title: t`What happens after stars or a label`,
      section: 'Mark',
      keys: [],
      run: (s) => s.cycleAfter('grade'),
    },

    {
      id: 'previous',
      title: t`Previous frame`,
      section: 'Move',
      keys: ['S', 'ArrowLeft'],
      repeats: true,
      in: STEP,
      run: (s) => s.step(-1),
    },
    {
      id: 'next',
      title: t`Next frame`,
      section: 'Move',
      keys: ['F', 'ArrowRight'],
      repeats: true,
      in: STEP,
      run: (s) => s.step(1),
    },
    {
      id: 'previous-group',
      title: t`Previous group`,
      section: 'Move',
      keys: ['W'],
      repeats: true,
      in: STEP,
      run: (s) => s.stepGroup(-1),
    },
    {
      id: 'next-group',
      title: t`Next group`,
      section: 'Move',
      keys: ['R'],
      repeats: true,
      in: STEP,
      run: (s) => s.stepGroup(1),
    },
    {
      id: 'row-up',
      title: t`Row above (frame view: previous group)`,
      section: 'Move',
      keys: ['ArrowUp'],
      repeats: true,
      in: STEP,
      run: (s) => s.stepRow(-1),
    },
    {
      id: 'row-down',
      title: t`Row below (frame view: next group)`,
      section: 'Move',
      keys: ['ArrowDown'],
      repeats: true,
      in: STEP,
      run: (s) => s.stepRow(1),
    },
    {
      id: 'first',
      title: t`First frame`,
      section: 'Move',
      keys: ['Home'],
      in: STEP,
      run: (s) => s.end(-1),
    },
    {
      id: 'last',
      title: t`Last frame`,
      section: 'Move',
      keys: ['End'],
      in: STEP,
      run: (s) => s.end(1),
    },
    {
      id: 'next-undecided',
      title: t`Next undecided`,
      section: 'Move',
      keys: ['N'],
      in: STEP,
      run: (s) => s.nextUndecided(),
    },

    {
      id: 'select-group',
      title: t`Select this group`,
      section: 'Select',
      keys: ['A'],
      in: PASS,
      run: (s) => s.selectGroup(),
    },
    {
      id: 'select-all',
      title: t`Select all that pass the filter`,
      section: 'Select',
      keys: ['Ctrl+A'],
      in: SHEET,
      run: (s) => s.selectAll(),
    },
    {
      id: 'extend-back',
      title: t`Extend the selection back`,
      section: 'Select',
      keys: ['Shift+ArrowLeft', 'Shift+S'],
      repeats: true,
      in: SHEET,
      run: (s) => s.extend(-1),
    },
    {
      id: 'extend-on',
      title: t`Extend the selection on`,
      section: 'Select',
      keys: ['Shift+ArrowRight', 'Shift+F'],
      repeats: true,
      in: SHEET,
      run: (s) => s.extend(1),
    },

    {
      id: 'swap-view',
      title: t`Sheet ↔ frame (side by side: this frame alone)`,
      section: 'Look',
      keys: ['Space', 'Enter'],
      in: STEP,
      run: (s) => s.show(s.view === 'frame' ? 'sheet' : 'frame'),
    },
    ...COMPARING,
    ...REVIEWING,
    ...TO_NUMBER,
    ...GROUPING,
    ...LOOKING,
    {
      id: 'back',
      title: t`One step back`,
      section: 'Look',
      keys: ['Escape'],
      run: (s) => s.back(),
    },

    {
      id: 'filter',
      title: t`Filter`,
      section: 'Filter',
      keys: ['E'],
      in: PASS,
      run: (s) => s.openFilter(),
    },
    {
      id: 'filter-text',
      title: t`Type a filter`,
      section: 'Filter',
      keys: ['/'],
      in: PASS,
      run: (s) => s.typeFilter(),
    },
    {
      id: 'filter-off',
      title: t`Filter off and on`,
      section: 'Filter',
      keys: ['Z'],
      in: PASS,
      run: (s) => s.toggleFilter(),
    },
    {
      id: 'only-picks',
      title: t`Show picks`,
      section: 'Filter',
      keys: ['Shift+L'],
      in: PASS,
      run: (s) => s.filterTo('pick'),
    },
    {
      id: 'only-undecided',
      title: t`Show undecided`,
      section: 'Filter',
      keys: ['Shift+K'],
      in: PASS,
      run: (s) => s.filterTo('undecided'),
    },
    {
      id: 'only-rejects',
      title: t`Show rejects`,
      section: 'Filter',
      keys: ['Shift+J'],
      in: PASS,
      run: (s) => s.filterTo('reject'),
    },
    {
      id: 'all',
      title: t`Show all frames`,
      section: 'Filter',
      keys: ['Shift+A'],
      in: PASS,
      run: (s) => s.clearFilter(),
    },

    {
      id: 'search',
      title: t`Search commands, frames, filters, shoots`,
      section: 'Shoot',
      keys: ['Ctrl+K'],
      run: (s) => s.openSearch(),
    },
    {
      id: 'key-editor',
      title: t`Change keys`,
      section: 'Shoot',
      keys: [],
      run: (s) => s.openPanel('key-editor'),
    },
    {
      id: 'share',
      title: t`Share this shoot with guests on the network`,
      section: 'Shoot',
      keys: [],
      run: (s) => s.openPanel('share'),
    },
    {
      id: 'pace',
      title: t`How far the cull is`,
      section: 'Shoot',
      keys: [],
      run: (s) => s.openPanel('pace'),
    },
    { id: 'keys', title: t`Keys`, section: 'Shoot', keys: ['?'], run: (s) => s.openKeys() },
    {
      id: 'look-again',
      title: t`Look for changed files, and try failed ones again`,
      section: 'Shoot',
      keys: [],
      run: (s) => s.lookAgain(),
    },
    {
      id: 'stop',
      title: t`Stop indexing`,
      section: 'Shoot',
      keys: [],
      run: (s) => s.stopIndexing(),
    },
  ];
}

/** The command that a chord runs, if one applies now: the first chord of which that is so. */
export function commandFor(
  commands: readonly Command[],
  chords: readonly string[],
  view: View,
): Command | undefined {
  for (const chord of chords) {
    const found = commands.find(
      (command) => command.keys.includes(chord) && appliesIn(command, view),
    );
    if (found) return found;
  }
  return undefined;
}
