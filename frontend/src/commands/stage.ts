/** What commands act on. */
import type { Label, Settings } from '../api/client';
import type { Edit } from '../state/marking';

/** What can be drawn over the photograph. */
export type Over = 'sharp' | 'edges' | 'clipped' | 'histogram' | 'glass';

export type View =
  'sheet' | 'frame' | 'side' | 'knockout' | 'review' | 'number' | 'hints' | 'wrap-up';

/** Marks, and the history. */
export interface MarkActs {
  /** `turned`: this once the other way of what happens after a mark */
  mark: (edit: Edit, turned?: boolean) => void;
  walk: (way: 'undo' | 'redo') => void;
  cycleAfter: (what: 'decision' | 'grade') => void;
}

/** Moving, and selecting. */
export interface MoveActs {
  step: (way: 1 | -1) => void;
  stepGroup: (way: 1 | -1) => void;
  stepRow: (way: 1 | -1) => void;
  end: (way: 1 | -1) => void;
  nextUndecided: () => void;
  selectGroup: () => void;
  selectAll: () => void;
  extend: (way: 1 | -1) => void;
}

/** How the picture is looked at. */
export interface LookActs {
  lookClose: (scale: 1 | 2) => void;
  zoom: (way: 1 | -1) => void;
  toggleBare: () => void;
  fullScreen: () => void;
  toggleFacts: () => void;
  toggleOver: (what: Over) => void;
  toggleOutline: () => void;
  toggleFaces: () => void;
  stepFace: (way: 1 | -1) => void;
  fitFace: () => void;
  turn: (by: 1 | 3) => void;
  cycleSurround: () => void;
  openSecond: () => void;
}

export interface FilterActs {
  openFilter: () => void;
  typeFilter: () => void;
  toggleFilter: () => void;
  filterTo: (decision: 'pick' | 'reject' | 'undecided') => void;
  /** with what is filtered for already, or without it where that is so */
  narrow: (by: { stars?: number; label?: string; written?: string }) => void;
  clearFilter: () => void;
}

export interface SheetActs {
  resize: (by: 1 | -1) => void;
  foldGroup: () => void;
  toggleNames: () => void;
  foldAll: () => void;
  sortBy: (order: Settings['sort']) => void;
}

/** What commands act on; the shoot view provides it. */
export interface Stage extends MarkActs, MoveActs, LookActs, FilterActs, SheetActs {
  view: View;
  settings: Settings;
  labels: readonly Label[];
  show: (view: View) => void;
  back: () => void;
  openKeys: () => void;
  openSearch: () => void;
  openClocks: () => void;
  openFacts: () => void;
  openPanel: (
    panel:
      | 'to-folder'
      | 'to-program'
      | 'history'
      | 'labels'
      | 'key-editor'
      | 'way'
      | 'pace'
      | 'share'
      | 'people',
  ) => void;
  copyPaths: () => void;
  takeTour: () => void;
  /** to one of the steps, from 1 */
  wrapUpAt: (step: number) => void;
  lookAgain: () => void;
  stopIndexing: () => void;
  toggleCaptions: () => void;
  toggleFollow: () => void;
  /** What only side by side and the knockout can do. */
  side: {
    compare: () => void;
    knockout: () => void;
    takeOut: () => void;
    bringBack: () => void;
    turnPage: (way: 1 | -1) => void;
    carry: () => void;
    nudge: (x: number, y: number) => void;
    unnudge: () => void;
    alone: () => void;
    turnTo: (way: 'blink' | 'difference') => void;
    stays: (which: 'best' | 'next') => void;
    walkBack: () => void;
  };
  /** What the review of the draft can do. */
  review: {
    open: () => void;
    take: () => void;
    takeNone: () => void;
    takeSure: () => void;
    another: (way: 1 | -1) => void;
    both: () => void;
    later: () => void;
    back: () => void;
  };
  /** The way to the number that is to be kept. */
  number: {
    open: () => void;
    letGo: () => void;
    keepIt: () => void;
    other: (way: 1 | -1) => void;
    back: () => void;
  };
  groups: {
    open: () => void;
    loosen: (by: 1 | -1) => void;
    edit: (what: 'split' | 'join' | 'before' | 'after' | 'alone') => void;
    rejectRest: () => void;
    /** `place`: of the tiles, from 1; without it the active frame is meant */
    onlyThis: (place?: number) => void;
    nextUnpicked: () => void;
    link: () => void;
    alike: () => void;
  };
}
