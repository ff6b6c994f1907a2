/** Every command: what it is called, its keys, when it applies, and what it does. */
import type { Label, Settings } from '../api/client';

export type View = 'sheet' | 'frame' | 'wrap-up';

/** What commands act on; the shoot view provides it. */
export interface Stage {
  view: View;
  settings: Settings;
  labels: readonly Label[];
  mark: (edit: {
    decision?: 'pick' | 'reject' | 'undecided';
    stars?: number;
    label?: string;
  }) => void;
  walk: (way: 'undo' | 'redo') => void;
  step: (way: 1 | -1) => void;
  stepGroup: (way: 1 | -1) => void;
  stepRow: (way: 1 | -1) => void;
  end: (way: 1 | -1) => void;
  nextUndecided: () => void;
  selectGroup: () => void;
  selectAll: () => void;
  extend: (way: 1 | -1) => void;
  show: (view: View) => void;
  back: () => void;
  lookClose: () => void;
  cycleAfter: () => void;
  toggleBare: () => void;
  toggleFacts: () => void;
  openFilter: () => void;
  toggleFilter: () => void;
  filterTo: (decision: 'pick' | 'reject' | 'undecided') => void;
  clearFilter: () => void;
  openKeys: () => void;
  openSearch: () => void;
  resize: (by: 1 | -1) => void;
  lookAgain: () => void;
  stopIndexing: () => void;
  openSecond: () => void;
  openClocks: () => void;
  openFacts: () => void;
  toggleFollow: () => void;
  toggleSharp: () => void;
}

export interface Command {
  id: string;
  title: string;
  section: 'Mark' | 'Move' | 'Select' | 'Look' | 'Filter' | 'Shoot';
  keys: readonly string[];
  /** May be held down. */
  repeats?: boolean;
  when?: (stage: Stage) => boolean;
  run: (stage: Stage) => void;
}

const inShow = (stage: Stage) => stage.view !== 'wrap-up';
const inSheet = (stage: Stage) => stage.view === 'sheet';
const inFrame = (stage: Stage) => stage.view === 'frame';

export const LABEL_KEYS = ['Y', 'U', 'I', 'O', 'P'] as const;

/** The commands, the labels among them by their own names. */
export function commandsFor(labels: readonly Label[]): readonly Command[] {
  return [
    {
      id: 'reject',
      title: 'Reject',
      section: 'Mark',
      keys: ['J'],
      when: inShow,
      run: (s) => s.mark({ decision: 'reject' }),
    },
    {
      id: 'undecide',
      title: 'Leave undecided',
      section: 'Mark',
      keys: ['K'],
      when: inShow,
      run: (s) => s.mark({ decision: 'undecided' }),
    },
    {
      id: 'pick',
      title: 'Pick',
      section: 'Mark',
      keys: ['L'],
      when: inShow,
      run: (s) => s.mark({ decision: 'pick' }),
    },
    ...[0, 1, 2, 3, 4, 5].map((stars): Command => ({
      id: `stars-${stars}`,
      title: stars === 0 ? 'No stars' : stars === 1 ? '1 star' : `${stars} stars`,
      section: 'Mark',
      keys: [String(stars)],
      when: inShow,
      run: (s) => s.mark({ stars }),
    })),
    ...labels.slice(0, LABEL_KEYS.length).map((label, n): Command => ({
      id: `label-${n + 1}`,
      title: `Label: ${label.name} (${label.meaning})`,
      section: 'Mark',
      keys: [LABEL_KEYS[n]!],
      when: inShow,
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
      when: inShow,
      run: (s) => s.step(-1),
    },
    {
      id: 'next',
      title: 'Next frame',
      section: 'Move',
      keys: ['F', 'ArrowRight'],
      repeats: true,
      when: inShow,
      run: (s) => s.step(1),
    },
    {
      id: 'previous-group',
      title: 'Previous group',
      section: 'Move',
      keys: ['W'],
      repeats: true,
      when: inShow,
      run: (s) => s.stepGroup(-1),
    },
    {
      id: 'next-group',
      title: 'Next group',
      section: 'Move',
      keys: ['R'],
      repeats: true,
      when: inShow,
      run: (s) => s.stepGroup(1),
    },
    {
      id: 'row-up',
      title: 'Row above (frame view: previous group)',
      section: 'Move',
      keys: ['ArrowUp'],
      repeats: true,
      when: inShow,
      run: (s) => s.stepRow(-1),
    },
    {
      id: 'row-down',
      title: 'Row below (frame view: next group)',
      section: 'Move',
      keys: ['ArrowDown'],
      repeats: true,
      when: inShow,
      run: (s) => s.stepRow(1),
    },
    {
      id: 'first',
      title: 'First frame',
      section: 'Move',
      keys: ['Home'],
      when: inShow,
      run: (s) => s.end(-1),
    },
    {
      id: 'last',
      title: 'Last frame',
      section: 'Move',
      keys: ['End'],
      when: inShow,
      run: (s) => s.end(1),
    },
    {
      id: 'next-undecided',
      title: 'Next undecided',
      section: 'Move',
      keys: ['N'],
      when: inShow,
      run: (s) => s.nextUndecided(),
    },

    {
      id: 'select-group',
      title: 'Select this group',
      section: 'Select',
      keys: ['A'],
      when: inShow,
      run: (s) => s.selectGroup(),
    },
    {
      id: 'select-all',
      title: 'Select all that pass the filter',
      section: 'Select',
      keys: ['Ctrl+A'],
      when: inSheet,
      run: (s) => s.selectAll(),
    },
    {
      id: 'extend-back',
      title: 'Extend the selection back',
      section: 'Select',
      keys: ['Shift+ArrowLeft', 'Shift+S'],
      repeats: true,
      when: inSheet,
      run: (s) => s.extend(-1),
    },
    {
      id: 'extend-on',
      title: 'Extend the selection on',
      section: 'Select',
      keys: ['Shift+ArrowRight', 'Shift+F'],
      repeats: true,
      when: inSheet,
      run: (s) => s.extend(1),
    },

    {
      id: 'swap-view',
      title: 'Sheet ↔ frame',
      section: 'Look',
      keys: ['Space', 'Enter'],
      when: inShow,
      run: (s) => s.show(s.view === 'sheet' ? 'frame' : 'sheet'),
    },
    {
      id: 'look-close',
      title: 'Look close (100 %)',
      section: 'Look',
      keys: ['D'],
      when: inFrame,
      run: (s) => s.lookClose(),
    },
    {
      id: 'bare',
      title: 'Hide all but the photographs',
      section: 'Look',
      keys: ['H'],
      when: inShow,
      run: (s) => s.toggleBare(),
    },
    {
      id: 'facts',
      title: 'Facts over the photograph',
      section: 'Look',
      keys: ['M'],
      when: inFrame,
      run: (s) => s.toggleFacts(),
    },
    {
      id: 'sharp',
      title: 'Where the photograph is sharp',
      section: 'Look',
      keys: ['X'],
      when: inFrame,
      run: (s) => s.toggleSharp(),
    },
    {
      id: 'all-facts',
      title: 'All facts of this frame',
      section: 'Look',
      keys: ['Shift+M'],
      when: inShow,
      run: (s) => s.openFacts(),
    },
    {
      id: 'smaller',
      title: 'Smaller rows',
      section: 'Look',
      keys: ['Ctrl+ArrowDown'],
      repeats: true,
      when: inSheet,
      run: (s) => s.resize(-1),
    },
    {
      id: 'larger',
      title: 'Larger rows',
      section: 'Look',
      keys: ['Ctrl+ArrowUp'],
      repeats: true,
      when: inSheet,
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
      title: 'Open a second window',
      section: 'Look',
      keys: [],
      run: (s) => s.openSecond(),
    },
    {
      id: 'follow',
      title: 'Follow the newest frame, or don’t',
      section: 'Shoot',
      keys: ['Shift+N'],
      when: inShow,
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
      when: inShow,
      run: (s) => s.openFilter(),
    },
    {
      id: 'filter-off',
      title: 'Filter off and on',
      section: 'Filter',
      keys: ['Z'],
      when: inShow,
      run: (s) => s.toggleFilter(),
    },
    {
      id: 'only-picks',
      title: 'Show picks',
      section: 'Filter',
      keys: ['Shift+L'],
      when: inShow,
      run: (s) => s.filterTo('pick'),
    },
    {
      id: 'only-undecided',
      title: 'Show undecided',
      section: 'Filter',
      keys: ['Shift+K'],
      when: inShow,
      run: (s) => s.filterTo('undecided'),
    },
    {
      id: 'only-rejects',
      title: 'Show rejects',
      section: 'Filter',
      keys: ['Shift+J'],
      when: inShow,
      run: (s) => s.filterTo('reject'),
    },
    {
      id: 'all',
      title: 'Show all frames',
      section: 'Filter',
      keys: ['Shift+A'],
      when: inShow,
      run: (s) => s.clearFilter(),
    },

    {
      id: 'search',
      title: 'Search commands',
      section: 'Shoot',
      keys: ['Ctrl+K'],
      run: (s) => s.openSearch(),
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
  return commands.find(
    (command) => command.keys.includes(chord) && (command.when?.(stage) ?? true),
  );
}
