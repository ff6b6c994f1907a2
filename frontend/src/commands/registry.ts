/** Every command: what it is called, its keys, when it applies, and what it does. */
import type { Label, Settings } from '../api/client';
import type { Edit, Stage, View } from './stage';

export interface Command {
  id: string;
  title: string;
  section: 'Mark' | 'Move' | 'Select' | 'Look' | 'Filter' | 'Shoot';
  keys: readonly string[];
  /** May be held down. */
  repeats?: boolean;
  /** The views it applies in; all of them where it doesn't say. */
  in?: readonly View[];
  /** What it marks; held down, the pointer sweeps this mark over frames. */
  edit?: Edit;
  run: (stage: Stage) => void;
}

export function appliesIn(command: Command, view: View): boolean {
  return (command.in ?? ALL).includes(view);
}

const ALL: readonly View[] = ['sheet', 'frame', 'wrap-up'];
const SHOW: readonly View[] = ['sheet', 'frame'];
const SHEET: readonly View[] = ['sheet'];
const FRAME: readonly View[] = ['frame'];

/** The standard keys of up to nine labels: under the right hand, then the free figures. */
export const LABEL_KEYS = ['Y', 'U', 'I', 'O', 'P', '6', '7', '8', '9'] as const;

export const SORTS: readonly (readonly [Settings['sort'], string])[] = [
  ['time', 'time'],
  ['name', 'name'],
  ['focus', 'focus, the sharpest first'],
  ['stars', 'stars, the most first'],
  ['decision', 'decision: picks, undecided, rejects'],
];

/** The commands, the labels among them by their own names. */
export function commandsFor(labels: readonly Label[]): readonly Command[] {
  return [
    {
      id: 'reject',
      title: 'Reject',
      section: 'Mark',
      keys: ['J'],
      in: SHOW,
      edit: { decision: 'reject' },
      run: (s) => s.mark({ decision: 'reject' }),
    },
    {
      id: 'undecide',
      title: 'Leave undecided',
      section: 'Mark',
      keys: ['K'],
      in: SHOW,
      edit: { decision: 'undecided' },
      run: (s) => s.mark({ decision: 'undecided' }),
    },
    {
      id: 'pick',
      title: 'Pick',
      section: 'Mark',
      keys: ['L'],
      in: SHOW,
      edit: { decision: 'pick' },
      run: (s) => s.mark({ decision: 'pick' }),
    },
    ...[0, 1, 2, 3, 4, 5].map((stars): Command => ({
      id: `stars-${stars}`,
      title: stars === 0 ? 'No stars' : stars === 1 ? '1 star' : `${stars} stars`,
      section: 'Mark',
      keys: [String(stars)],
      in: SHOW,
      edit: { stars },
      run: (s) => s.mark({ stars }),
    })),
    ...labels.slice(0, LABEL_KEYS.length).map((label, n): Command => ({
      id: `label-${n + 1}`,
      title: `Label: ${label.name}`,
      section: 'Mark',
      keys: [LABEL_KEYS[n]!],
      in: SHOW,
      edit: { label: label.letter },
      run: (s) => s.mark({ label: label.letter }),
    })),
    {
      id: 'undo',
      title: 'Undo',
      section: 'Mark',
      keys: ['Ctrl+Z'],
      repeats: true,
      run: (s) => s.walk('undo'),
    },
    {
      id: 'redo',
      title: 'Redo',
      section: 'Mark',
      keys: ['Ctrl+Shift+Z'],
      repeats: true,
      run: (s) => s.walk('redo'),
    },
    {
      id: 'history',
      title: 'History: go back to any step',
      section: 'Mark',
      keys: ['Shift+Z'],
      run: (s) => s.openPanel('history'),
    },
    {
      id: 'way',
      title: 'First pass: pick in or weed out',
      section: 'Mark',
      keys: [],
      in: SHOW,
      run: (s) => s.openPanel('way'),
    },
    {
      id: 'labels',
      title: 'Labels and their meanings',
      section: 'Mark',
      keys: ['Shift+Y'],
      run: (s) => s.openPanel('labels'),
    },
    {
      id: 'after',
      title: 'What happens after a decision',
      section: 'Mark',
      keys: ['T'],
      run: (s) => s.cycleAfter(),
    },

    {
      id: 'previous',
      title: 'Previous frame',
      section: 'Move',
      keys: ['S', 'ArrowLeft'],
      repeats: true,
      in: SHOW,
      run: (s) => s.step(-1),
    },
    {
      id: 'next',
      title: 'Next frame',
      section: 'Move',
      keys: ['F', 'ArrowRight'],
      repeats: true,
      in: SHOW,
      run: (s) => s.step(1),
    },
    {
      id: 'previous-group',
      title: 'Previous group',
      section: 'Move',
      keys: ['W'],
      repeats: true,
      in: SHOW,
      run: (s) => s.stepGroup(-1),
    },
    {
      id: 'next-group',
      title: 'Next group',
      section: 'Move',
      keys: ['R'],
      repeats: true,
      in: SHOW,
      run: (s) => s.stepGroup(1),
    },
    {
      id: 'row-up',
      title: 'Row above (frame view: previous group)',
      section: 'Move',
      keys: ['ArrowUp'],
      repeats: true,
      in: SHOW,
      run: (s) => s.stepRow(-1),
    },
    {
      id: 'row-down',
      title: 'Row below (frame view: next group)',
      section: 'Move',
      keys: ['ArrowDown'],
      repeats: true,
      in: SHOW,
      run: (s) => s.stepRow(1),
    },
    {
      id: 'first',
      title: 'First frame',
      section: 'Move',
      keys: ['Home'],
      in: SHOW,
      run: (s) => s.end(-1),
    },
    {
      id: 'last',
      title: 'Last frame',
      section: 'Move',
      keys: ['End'],
      in: SHOW,
      run: (s) => s.end(1),
    },
    {
      id: 'next-undecided',
      title: 'Next undecided',
      section: 'Move',
      keys: ['N'],
      in: SHOW,
      run: (s) => s.nextUndecided(),
    },

    {
      id: 'select-group',
      title: 'Select this group',
      section: 'Select',
      keys: ['A'],
      in: SHOW,
      run: (s) => s.selectGroup(),
    },
    {
      id: 'select-all',
      title: 'Select all that pass the filter',
      section: 'Select',
      keys: ['Ctrl+A'],
      in: SHEET,
      run: (s) => s.selectAll(),
    },
    {
      id: 'extend-back',
      title: 'Extend the selection back',
      section: 'Select',
      keys: ['Shift+ArrowLeft', 'Shift+S'],
      repeats: true,
      in: SHEET,
      run: (s) => s.extend(-1),
    },
    {
      id: 'extend-on',
      title: 'Extend the selection on',
      section: 'Select',
      keys: ['Shift+ArrowRight', 'Shift+F'],
      repeats: true,
      in: SHEET,
      run: (s) => s.extend(1),
    },

    {
      id: 'swap-view',
      title: 'Sheet ↔ frame',
      section: 'Look',
      keys: ['Space', 'Enter'],
      in: SHOW,
      run: (s) => s.show(s.view === 'sheet' ? 'frame' : 'sheet'),
    },
    {
      id: 'look-close',
      title: 'Look close at 100 %; held: a glance',
      section: 'Look',
      keys: ['D'],
      in: FRAME,
      run: (s) => s.lookClose(1),
    },
    {
      id: 'look-closer',
      title: 'Look close at 200 %',
      section: 'Look',
      keys: ['Shift+D'],
      in: FRAME,
      run: (s) => s.lookClose(2),
    },
    {
      id: 'glass',
      title: 'Magnifying glass under the pointer',
      section: 'Look',
      keys: ['G'],
      in: FRAME,
      run: (s) => s.toggleOver('glass'),
    },
    {
      id: 'clipped',
      title: 'Clipped highlights and shadows',
      section: 'Look',
      keys: ['C'],
      in: FRAME,
      run: (s) => s.toggleOver('clipped'),
    },
    {
      id: 'histogram',
      title: 'Histogram',
      section: 'Look',
      keys: ['Shift+C'],
      in: FRAME,
      run: (s) => s.toggleOver('histogram'),
    },
    {
      id: 'edges',
      title: 'Edges that are in focus',
      section: 'Look',
      keys: ['Shift+X'],
      in: FRAME,
      run: (s) => s.toggleOver('edges'),
    },
    {
      id: 'turn-left',
      title: 'Turn left (on screen only)',
      section: 'Look',
      keys: [','],
      in: SHOW,
      run: (s) => s.turn(3),
    },
    {
      id: 'turn-right',
      title: 'Turn right (on screen only)',
      section: 'Look',
      keys: ['.'],
      in: SHOW,
      run: (s) => s.turn(1),
    },
    {
      id: 'surround',
      title: 'Darker or lighter surround',
      section: 'Look',
      keys: ['Shift+B'],
      in: SHOW,
      run: (s) => s.cycleSurround(),
    },
    {
      id: 'fold',
      title: 'Fold this group, or unfold it',
      section: 'Look',
      keys: ['G'],
      in: SHEET,
      run: (s) => s.foldGroup(),
    },
    {
      id: 'fold-all',
      title: 'Fold or unfold all groups',
      section: 'Look',
      keys: ['Shift+G'],
      in: SHEET,
      run: (s) => s.foldAll(),
    },
    ...SORTS.map(([order, words]): Command => ({
      id: `sort-${order}`,
      title: `Sort by ${words}`,
      section: 'Look',
      keys: [],
      in: SHOW,
      run: (s) => s.sortBy(order),
    })),
    {
      id: 'bare',
      title: 'Hide all but the photographs',
      section: 'Look',
      keys: ['H'],
      in: SHOW,
      run: (s) => s.toggleBare(),
    },
    {
      id: 'facts',
      title: 'Facts over the photograph',
      section: 'Look',
      keys: ['M'],
      in: FRAME,
      run: (s) => s.toggleFacts(),
    },
    {
      id: 'sharp',
      title: 'Where the photograph is sharp',
      section: 'Look',
      keys: ['X'],
      in: FRAME,
      run: (s) => s.toggleOver('sharp'),
    },
    {
      id: 'all-facts',
      title: 'All facts of this frame',
      section: 'Look',
      keys: ['Shift+M'],
      in: SHOW,
      run: (s) => s.openFacts(),
    },
    {
      id: 'smaller',
      title: 'Smaller rows',
      section: 'Look',
      keys: ['Ctrl+ArrowDown'],
      repeats: true,
      in: SHEET,
      run: (s) => s.resize(-1),
    },
    {
      id: 'larger',
      title: 'Larger rows',
      section: 'Look',
      keys: ['Ctrl+ArrowUp'],
      repeats: true,
      in: SHEET,
      run: (s) => s.resize(1),
    },
    {
      id: 'sheet',
      title: 'Go to the sheet',
      section: 'Look',
      keys: [],
      run: (s) => s.show('sheet'),
    },
    {
      id: 'wrap-up',
      title: 'Wrap up',
      section: 'Look',
      keys: ['Q'],
      run: (s) => s.show('wrap-up'),
    },
    {
      id: 'second',
      title: 'Second window on the active frame',
      section: 'Look',
      keys: ['Shift+O'],
      in: SHOW,
      run: (s) => s.openSecond(),
    },
    {
      id: 'follow',
      title: 'Follow the newest frame, or don’t',
      section: 'Shoot',
      keys: ['Shift+N'],
      in: SHOW,
      run: (s) => s.toggleFollow(),
    },
    {
      id: 'clocks',
      title: 'Cameras’ clocks',
      section: 'Shoot',
      keys: ['Shift+T'],
      run: (s) => s.openClocks(),
    },
    { id: 'back', title: 'One step back', section: 'Look', keys: ['Escape'], run: (s) => s.back() },

    {
      id: 'filter',
      title: 'Filter',
      section: 'Filter',
      keys: ['E'],
      in: SHOW,
      run: (s) => s.openFilter(),
    },
    {
      id: 'filter-text',
      title: 'Type a filter',
      section: 'Filter',
      keys: ['/'],
      in: SHOW,
      run: (s) => s.typeFilter(),
    },
    {
      id: 'filter-off',
      title: 'Filter off and on',
      section: 'Filter',
      keys: ['Z'],
      in: SHOW,
      run: (s) => s.toggleFilter(),
    },
    {
      id: 'only-picks',
      title: 'Show picks',
      section: 'Filter',
      keys: ['Shift+L'],
      in: SHOW,
      run: (s) => s.filterTo('pick'),
    },
    {
      id: 'only-undecided',
      title: 'Show undecided',
      section: 'Filter',
      keys: ['Shift+K'],
      in: SHOW,
      run: (s) => s.filterTo('undecided'),
    },
    {
      id: 'only-rejects',
      title: 'Show rejects',
      section: 'Filter',
      keys: ['Shift+J'],
      in: SHOW,
      run: (s) => s.filterTo('reject'),
    },
    {
      id: 'all',
      title: 'Show all frames',
      section: 'Filter',
      keys: ['Shift+A'],
      in: SHOW,
      run: (s) => s.clearFilter(),
    },

    {
      id: 'search',
      title: 'Search commands, frames, filters, shoots',
      section: 'Shoot',
      keys: ['Ctrl+K'],
      run: (s) => s.openSearch(),
    },
    {
      id: 'key-editor',
      title: 'Change keys',
      section: 'Shoot',
      keys: [],
      run: (s) => s.openPanel('key-editor'),
    },
    {
      id: 'pace',
      title: 'How far the cull is',
      section: 'Shoot',
      keys: [],
      run: (s) => s.openPanel('pace'),
    },
    { id: 'keys', title: 'Keys', section: 'Shoot', keys: ['?'], run: (s) => s.openKeys() },
    {
      id: 'look-again',
      title: 'Look for changed files, and try failed ones again',
      section: 'Shoot',
      keys: [],
      run: (s) => s.lookAgain(),
    },
    {
      id: 'stop',
      title: 'Stop indexing',
      section: 'Shoot',
      keys: [],
      run: (s) => s.stopIndexing(),
    },
  ];
}

/** The command that a chord runs, if it applies now. */
export function commandFor(
  commands: readonly Command[],
  chord: string,
  stage: Stage,
): Command | undefined {
  return commands.find((command) => command.keys.includes(chord) && appliesIn(command, stage.view));
}
