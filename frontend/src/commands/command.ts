/** What a command is, and where commands apply. */
import { t } from '@lingui/core/macro';

import type { Edit } from '../state/marking';
import type { Stage, View } from './stage';

export interface Command {
  id: string;
  title: string;
  section: 'Mark' | 'Move' | 'Select' | 'Compare' | 'Groups' | 'Look' | 'Filter' | 'Shoot';
  keys: readonly string[];
  /** May be held down. */
  repeats?: boolean;
  /** The views it applies in; all of them where it doesn't say. */
  in?: readonly View[];
  /** What it marks; held down, the pointer sweeps this mark over frames. */
  edit?: Edit;
  run: (stage: Stage) => void;
}

/** A line of a table of commands: id, title, keys, what it does, and what else is to be said. */
type Row = readonly [
  id: string,
  title: string,
  keys: readonly string[],
  run: Command['run'],
  more?: Pick<Command, 'repeats'>,
];

/** Said of a command whose key may be held down. */
export const HELD = { repeats: true } as const;

/** The commands of a table; all stand in one section and apply in the same views. */
export function commands(
  section: Command['section'],
  views: readonly View[],
  rows: readonly Row[],
): Command[] {
  return rows.map(([id, title, keys, run, more]) => ({
    id,
    title,
    section,
    keys,
    in: views,
    run,
    ...more,
  }));
}

/** Sections and what they are called, in the order in which they stand. */
export const SECTIONS: Record<Command['section'], string> = {
  Mark: t`Mark`,
  Move: t`Move`,
  Look: t`Look`,
  Select: t`Select`,
  Compare: t`Compare`,
  Groups: t`Groups`,
  Filter: t`Filter`,
  Shoot: t`Shoot`,
};

/** The views by their names. */
export const VIEW_WORDS: Record<View, string> = {
  sheet: t`sheet`,
  frame: t`frame`,
  side: t`side by side`,
  knockout: t`knockout`,
  review: t`review`,
  number: t`trim and fill`,
  hints: t`hints`,
  'wrap-up': t`wrap-up`,
};

/** Where a command applies: "frame, side by side"; "" for everywhere. */
export function whereWords({ in: views }: Pick<Command, 'in'>): string {
  return !views || views.length === ALL.length
    ? ''
    : views.map((view) => VIEW_WORDS[view]).join(', ');
}

export function appliesIn(command: Command, view: View): boolean {
  return (command.in ?? ALL).includes(view);
}

export const ALL: readonly View[] = [
  'sheet',
  'frame',
  'side',
  'knockout',
  'review',
  'number',
  'hints',
  'wrap-up',
];
/** Where photographs are. */
export const SHOW: readonly View[] = ['sheet', 'frame', 'side', 'knockout'];
/** Where one goes through all of them. */
export const PASS: readonly View[] = ['sheet', 'frame'];
export const STEP: readonly View[] = ['sheet', 'frame', 'side'];
export const CLOSE: readonly View[] = ['frame', 'side', 'knockout', 'review', 'number'];
export const SIDE: readonly View[] = ['side'];
export const TILES: readonly View[] = ['side', 'knockout', 'review', 'number'];
export const REVIEW: readonly View[] = ['review'];
export const NUMBER: readonly View[] = ['number'];
export const KNOCKOUT: readonly View[] = ['knockout'];
export const SHEET: readonly View[] = ['sheet'];
export const FRAME: readonly View[] = ['frame'];
