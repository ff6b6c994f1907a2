/** Every command: what it is called, its keys, when it applies, and what it does. */
import { t } from '@lingui/core/macro';

import type { Label } from '../api/client';
import { ALL, appliesIn, commands, HELD, PASS, SHEET, SHOW, STEP, type Command } from './command';
import { COMPARING, GROUPING, REVIEWING, TO_NUMBER } from './comparing';
import { LOOKING } from './looking';
import type { Stage, View } from './stage';
import { WRAP_UP_STEPS } from './wrap-up-steps';
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
    ...commands('Mark', ALL, [
      ['undo', t`Undo`, ['Ctrl+Z'], (s) => s.walk('undo'), HELD],
      ['redo', t`Redo`, ['Ctrl+Shift+Z'], (s) => s.walk('redo'), HELD],
      ['history', t`History: go back to any step`, ['Shift+Z'], (s) => s.openPanel('history')],
    ]),
    ...commands('Mark', PASS, [
      ['way', t`First pass: pick in or weed out`, [], (s) => s.openPanel('way')],
    ]),
    ...commands('Mark', ALL, [
      ['labels', t`Labels and their meanings`, ['Shift+Y'], (s) => s.openPanel('labels')],
      ['after', t`What happens after a decision`, ['T'], (s) => s.cycleAfter('decision')],
      ['after-grade', t`What happens after stars or a label`, [], (s) => s.cycleAfter('grade')],
    ]),

    ...commands('Move', STEP, [
      ['previous', t`Previous frame`, ['S', 'ArrowLeft'], (s) => s.step(-1), HELD],
      ['next', t`Next frame`, ['F', 'ArrowRight'], (s) => s.step(1), HELD],
      ['previous-group', t`Previous group`, ['W'], (s) => s.stepGroup(-1), HELD],
      ['next-group', t`Next group`, ['R'], (s) => s.stepGroup(1), HELD],
      [
        'row-up',
        t`Row above (frame view: previous group)`,
        ['ArrowUp'],
        (s) => s.stepRow(-1),
        HELD,
      ],
      ['row-down', t`Row below (frame view: next group)`, ['ArrowDown'], (s) => s.stepRow(1), HELD],
      ['first', t`First frame`, ['Home'], (s) => s.end(-1)],
      ['last', t`Last frame`, ['End'], (s) => s.end(1)],
      ['next-undecided', t`Next undecided`, ['N'], (s) => s.nextUndecided()],
    ]),

    ...commands('Select', PASS, [
      ['select-group', t`Select this group`, ['A'], (s) => s.selectGroup()],
    ]),
    ...commands('Select', SHEET, [
      ['select-all', t`Select all that pass the filter`, ['Ctrl+A'], (s) => s.selectAll()],
      [
        'extend-back',
        t`Extend the selection back`,
        ['Shift+ArrowLeft', 'Shift+S'],
        (s) => s.extend(-1),
        HELD,
      ],
      [
        'extend-on',
        t`Extend the selection on`,
        ['Shift+ArrowRight', 'Shift+F'],
        (s) => s.extend(1),
        HELD,
      ],
    ]),

    ...commands('Look', STEP, [
      [
        'swap-view',
        t`Sheet ↔ frame (side by side: this frame alone)`,
        ['Space', 'Enter'],
        (s) => s.show(s.view === 'frame' ? 'sheet' : 'frame'),
      ],
    ]),
    ...COMPARING,
    ...REVIEWING,
    ...TO_NUMBER,
    ...GROUPING,
    ...LOOKING,
    ...commands('Look', ALL, [['back', t`One step back`, ['Escape'], (s) => s.back()]]),

    ...commands('Filter', PASS, [
      ['filter', t`Filter`, ['E'], (s) => s.openFilter()],
      ['filter-text', t`Type a filter`, ['/'], (s) => s.typeFilter()],
      ['filter-off', t`Filter off and on`, ['Z'], (s) => s.toggleFilter()],
      ['only-picks', t`Show picks`, ['Shift+L'], (s) => s.filterTo('pick')],
      ['only-undecided', t`Show undecided`, ['Shift+K'], (s) => s.filterTo('undecided')],
      ['only-rejects', t`Show rejects`, ['Shift+J'], (s) => s.filterTo('reject')],
      ['all', t`Show all frames`, ['Shift+A'], (s) => s.clearFilter()],
      [
        'narrow-good',
        t`Only frames in which nothing was noticed, with the filter that is on`,
        ['{'],
        (s) => s.narrow({ written: 'hint none' }),
      ],
      ...([1, 2, 3, 4, 5] as const).map(
        (stars) =>
          [
            `narrow-stars-${stars}`,
            t`Only ${counted(stars, 'star')} or more, with the filter that is on`,
            [`Shift+${stars}`],
            (s: Stage) => s.narrow({ stars }),
          ] as const,
      ),
      ...labels
        .slice(0, LABEL_KEYS.length)
        .map(
          (label, n) =>
            [
              `narrow-label-${n + 1}`,
              t`Only the label ${label.name}, with the filter that is on`,
              [],
              (s: Stage) => s.narrow({ label: label.letter }),
            ] as const,
        ),
    ]),

    ...commands('Shoot', SHOW, [
      [
        'to-folder',
        t`To a folder: these frames, copied or moved`,
        [':'],
        (s) => s.openPanel('to-folder'),
      ],
      [
        'to-program',
        t`To a program: start one with these frames`,
        ['"'],
        (s) => s.openPanel('to-program'),
      ],
      ['copy-paths', t`Copy the paths of these frames`, ['Ctrl+C'], (s) => s.copyPaths()],
    ]),
    ...commands('Shoot', ALL, [
      ['search', t`Search commands, frames, filters, shoots`, ['Ctrl+K'], (s) => s.openSearch()],
      ['key-editor', t`Change keys`, [], (s) => s.openPanel('key-editor')],
      ['share', t`Share this shoot with guests on the network`, [], (s) => s.openPanel('share')],
      ['pace', t`How far the cull is`, [], (s) => s.openPanel('pace')],
      ['keys', t`Keys`, ['?'], (s) => s.openKeys()],
      ['tour', t`First steps, once more`, [], (s) => s.takeTour()],
      ...WRAP_UP_STEPS.map(
        ([id, title], n) =>
          [id, t`Wrap up: ${title}`, [], (s: Stage) => s.wrapUpAt(n + 1)] as const,
      ).slice(1),
      [
        'look-again',
        t`Look for changed files, and try failed ones again`,
        [],
        (s) => s.lookAgain(),
      ],
      ['stop', t`Stop indexing`, [], (s) => s.stopIndexing()],
    ]),
  ];
}

/** The command that a chord runs, if one applies now: the first chord of which that is so. */
export function commandFor(
  commands: readonly Command[],
  chords: readonly string[],
  view: View,
): Command | undefined {
  for (const chord of chords) {
    const command = commands.find(
      (command) => command.keys.includes(chord) && appliesIn(command, view),
    );
    if (command) return command;
  }
  return undefined;
}
