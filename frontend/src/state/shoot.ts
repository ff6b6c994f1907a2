/** What is open: the shoot's frames and marks, what is visible, active and selected. */
import { create } from 'zustand';

import type { Change, Filter, Found, FrameColumns } from '../api/client';
import { fromColumns, type Frame, type Mark } from './frames';
import { inOrder, type Order } from './orders';
import { between, keepPlace, newcomer } from './places';

export const NO_FILTER: Filter = {
  decisions: [],
  stars_rule: 'at_least',
  stars: null,
  labels: [],
  written: '',
};

export function isEmpty(filter: Filter): boolean {
  return (
    !filter.decisions.length && filter.stars === null && !filter.labels.length && !filter.written
  );
}

interface Notice {
  text: string;
  wrong: boolean;
  at: number;
}

export interface ShootState {
  shootId: number;
  loaded: boolean;
  frames: Frame[];
  byId: Map<number, Frame>;
  /** Changed in place; every change puts a new Mark object in, which is what views compare. */
  marks: Map<number, Mark>;
  /** Frames whose marks are on their way to the server, with how many. */
  pending: Map<number, number>;
  marksVersion: number;
  visible: readonly number[];
  found: Found | null;
  filter: Filter;
  filterOn: boolean;
  active: number | null;
  /** Whether the person went to the active frame; else it stays the first, whatever comes in. */
  moved: boolean;
  /** Whether the newest frame becomes the active one when it comes in. */
  follows: boolean;
  order: Order;
  /** Groups of which the sheet shows only the best frame. */
  folded: ReadonlySet<number>;
  selection: readonly number[];
  undo: string | null;
  redo: string | null;
  notice: Notice | null;

  open: (shootId: number, filter: Filter, active: number | null) => void;
  load: (columns: FrameColumns) => void;
  patch: (frames: (Partial<Frame> & { id: number })[]) => void;
  show: (found: Found) => void;
  setFilter: (filter: Filter, on?: boolean) => void;
  go: (id: number | null | undefined) => void;
  choose: (id: number, how: 'only' | 'toggle' | 'range') => void;
  select: (ids: readonly number[]) => void;
  draw: (marks: Iterable<readonly [number, Mark]>) => void;
  receive: (change: Pick<Change, 'marks' | 'undo' | 'redo'>) => void;
  follow: (on: boolean) => void;
  sortBy: (order: Order) => void;
  fold: (groups: ReadonlySet<number>) => void;
  say: (text: string, wrong?: boolean) => void;
  hush: () => void;
}

const EMPTY = {
  loaded: false,
  frames: [],
  visible: [],
  found: null,
  filter: NO_FILTER,
  filterOn: true,
  active: null,
  moved: false,
  selection: [],
  folded: new Set<number>(),
  undo: null,
  redo: null,
  notice: null,
  marksVersion: 0,
};

export const useShoot = create<ShootState>()((set, get) => ({
  ...EMPTY,
  shootId: 0,
  follows: false,
  order: 'time',
  byId: new Map(),
  marks: new Map(),
  pending: new Map(),

  open: (shootId, filter, active) =>
    set({
      ...EMPTY,
      shootId,
      filter,
      active,
      moved: active !== null,
      byId: new Map(),
      marks: new Map(),
      pending: new Map(),
    }),

  load: (columns) => {
    const { frames, marks } = fromColumns(columns);
    const { marks: mine, pending, marksVersion } = get();
    // A mark on its way to the server is newer than what the server just said.
    for (const id of pending.keys()) {
      const mark = mine.get(id);
      if (mark) marks.set(id, mark);
    }
    const byId = new Map(frames.map((frame) => [frame.id, frame]));
    set({ loaded: true, frames, byId, marks, marksVersion: marksVersion + 1 });
  },

  patch: (patches) => {
    const { frames, byId } = get();
    const changed = new Map<number, Frame>();
    for (const patch of patches) {
      const frame = byId.get(patch.id);
      if (frame) changed.set(patch.id, { ...frame, ...patch });
    }
    if (!changed.size) return;
    set({
      frames: frames.map((frame) => changed.get(frame.id) ?? frame),
      byId: new Map([...byId, ...changed]),
    });
  },

  show: (found) => {
    const { active, moved, follows, visible, selection, order, byId, marks } = get();
    const there = new Set(found.ids);
    const ids = inOrder(found.ids, order, byId, marks);
    // The same frames stay the same list: views move only when what they show has changed.
    const same = ids.length === visible.length && ids.every((id, n) => id === visible[n]);
    const newest = follows && !same ? newcomer(visible, ids) : undefined;
    set({
      found,
      visible: same ? visible : ids,
      active: newest ?? keepPlace(moved ? active : null, visible, ids),
      moved: moved || newest !== undefined,
      selection: selection.filter((id) => there.has(id)),
    });
  },

  setFilter: (filter, on = true) => set({ filter, filterOn: on }),

  go: (id) => {
    if (id !== null && id !== undefined && id !== get().active) {
      set({ active: id, moved: true });
    }
  },

  choose: (id, how) => {
    const { selection, active, visible } = get();
    if (how === 'only') {
      set({ active: id, moved: true, selection: [] });
    } else if (how === 'toggle') {
      const start = selection.length || active === null || active === id ? selection : [active];
      const next = start.includes(id) ? start.filter((one) => one !== id) : [...start, id];
      set({ active: id, moved: true, selection: next });
    } else {
      const from = selection[0] ?? active ?? id;
      set({ active: id, moved: true, selection: between(visible, from, id) });
    }
  },

  select: (ids) => set({ selection: ids }),

  draw: (marks) => {
    const held = get().marks;
    for (const [id, mark] of marks) held.set(id, mark);
    set({ marksVersion: get().marksVersion + 1 });
  },

  receive: ({ marks, undo, redo }) => {
    const { pending, draw } = get();
    draw(
      marks
        .filter(({ frame }) => !pending.has(frame))
        .map(({ frame, ...mark }) => [frame, mark] as const),
    );
    set({ undo, redo });
  },

  sortBy: (order) => {
    const { found, byId, marks } = get();
    set({ order, visible: found ? inOrder(found.ids, order, byId, marks) : [] });
  },

  fold: (groups) => set({ folded: groups }),

  follow: (on) => {
    if (on !== get().follows) set({ follows: on });
  },

  say: (text, wrong = false) => set({ notice: { text, wrong, at: Date.now() } }),
  hush: () => set({ notice: null }),
}));
