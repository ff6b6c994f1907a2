/** What is open: the shoot's frames and marks, what is visible, active and selected. */
import { create } from 'zustand';

import type { Change, Decision, Filter, Found, FrameColumns } from '../api/client';
import { fromColumns, type Frame, type Mark } from './frames';
import { inOrder, type Order } from './orders';
import { between, keepPlace, newcomer } from './next-frame';

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
  /**
   * How many frames have which decision; kept at each mark, as counting a large shoot takes longer
   * than a mark may.
   */
  decided: Readonly<Record<Decision, number>>;
  /** Frames that were looked at, changed in place, and how many there are. */
  seen: Set<number>;
  seenCount: number;
  /** Counts changes of what is written about frames. */
  textsVersion: number;
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
  /** the frames most like one, where the sheet shows those */
  alike: readonly number[];
  /** Groups of which the sheet shows only the best frame. */
  folded: ReadonlySet<number>;
  selection: readonly number[];
  /** frames that are compared: one of them stays the active one, whatever the filter says */
  held: ReadonlySet<number>;
  undo: string | null;
  redo: string | null;
  notice: Notice | null;

  open: (shootId: number, filter: Filter, active: number | null) => void;
  load: (columns: FrameColumns) => void;
  patch: (frames: (Partial<Frame> & { id: number })[]) => void;
  show: (found: Found) => void;
  /** Other groups, by frame in order of time, as they will be or have become. */
  regroup: (ids: readonly number[], groups: readonly number[]) => void;
  hold: (ids: readonly number[]) => void;
  setFilter: (filter: Filter, on?: boolean) => void;
  go: (id: number | null | undefined) => void;
  choose: (id: number, how: 'only' | 'toggle' | 'range') => void;
  select: (ids: readonly number[]) => void;
  draw: (marks: Iterable<readonly [number, Mark]>) => void;
  /** Note frames as looked at; returns those that were not before. */
  look: (ids: readonly number[]) => number[];
  receive: (
    change: Pick<Change, 'marks' | 'texts'> & Partial<Pick<Change, 'undo' | 'redo'>>,
  ) => void;
  follow: (on: boolean) => void;
  sortBy: (order: Order) => void;
  showAlike: (ids: readonly number[]) => void;
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
  held: new Set<number>(),
  alike: [],
  undo: null,
  redo: null,
  notice: null,
  marksVersion: 0,
  decided: { pick: 0, reject: 0, undecided: 0 },
  seenCount: 0,
  textsVersion: 0,
};

/** The frames that pass, in the order that the sheet is in. */
function arranged(
  { order, alike, byId, marks }: Pick<ShootState, 'order' | 'alike' | 'byId' | 'marks'>,
  ids: readonly number[],
): readonly number[] {
  if (order !== 'alike') return inOrder(ids, order, byId, marks);
  const there = new Set(ids);
  return alike.filter((id) => there.has(id));
}

export const useShoot = create<ShootState>()((set, get) => ({
  ...EMPTY,
  shootId: 0,
  follows: false,
  order: 'time',
  byId: new Map(),
  marks: new Map(),
  pending: new Map(),
  seen: new Set(),

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
      seen: new Set(),
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
    const decided = { pick: 0, reject: 0, undecided: 0 };
    for (const { id } of frames) decided[marks.get(id)!.decision] += 1;
    // What was looked at a moment ago may not be stored yet.
    const before = get().seen;
    const seen = new Set(columns.id.filter((id, n) => columns.seen[n] || before.has(id)));
    set({
      loaded: true,
      frames,
      byId,
      marks,
      decided,
      seen,
      seenCount: seen.size,
      marksVersion: marksVersion + 1,
    });
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
    const { active, moved, follows, visible, selection, held } = get();
    const stays = active !== null && held.has(active);
    const there = new Set(found.ids);
    const ids = arranged(get(), found.ids);
    // The same frames stay the same list: views move only when what they show has changed.
    const same = ids.length === visible.length && ids.every((id, n) => id === visible[n]);
    const newest = follows && !same ? newcomer(visible, ids) : undefined;
    set({
      found,
      visible: same ? visible : ids,
      active: stays ? active : (newest ?? keepPlace(moved ? active : null, visible, ids)),
      moved: moved || newest !== undefined,
      selection: selection.filter((id) => there.has(id)),
    });
  },

  regroup: (ids, groups) => {
    const { byId, frames, visible, order, loaded } = get();
    // Frames came in meanwhile: the groups come with them.
    if (!loaded || ids.length !== frames.length) return;
    const regrouped = ids.flatMap((id, n) => {
      const frame = byId.get(id);
      const group = groups[n]!;
      return frame ? [frame.group === group ? frame : { ...frame, group }] : [];
    });
    regrouped.sort((a, b) => a.group - b.group);
    const there = new Set(visible);
    set({
      frames: regrouped,
      byId: new Map(regrouped.map((frame) => [frame.id, frame])),
      ...(order === 'time'
        ? { visible: regrouped.flatMap(({ id }) => (there.has(id) ? [id] : [])) }
        : {}),
    });
  },

  hold: (ids) => {
    const { active, visible, frames } = get();
    const left = !ids.length && active !== null && !visible.includes(active);
    const all = left ? frames.map((frame) => frame.id) : [];
    set({ held: new Set(ids), ...(left ? { active: keepPlace(active, all, visible) } : {}) });
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
      const next = start.includes(id) ? start.filter((other) => other !== id) : [...start, id];
      set({ active: id, moved: true, selection: next });
    } else {
      const from = selection[0] ?? active ?? id;
      set({ active: id, moved: true, selection: between(visible, from, id) });
    }
  },

  select: (ids) => set({ selection: ids }),

  draw: (marks) => {
    const { marks: held, byId, marksVersion } = get();
    const decided = { ...get().decided };
    for (const [id, mark] of marks) {
      const before = held.get(id);
      if (before && byId.has(id)) {
        decided[before.decision] -= 1;
        decided[mark.decision] += 1;
      }
      held.set(id, mark);
    }
    set({ decided, marksVersion: marksVersion + 1 });
  },

  look: (ids) => {
    const { seen, byId } = get();
    const fresh = ids.filter((id) => byId.has(id) && !seen.has(id));
    for (const id of fresh) seen.add(id);
    if (fresh.length) set({ seenCount: seen.size });
    return fresh;
  },

  receive: ({ marks, texts, undo, redo }) => {
    const { pending, draw, textsVersion } = get();
    if (texts.length) set({ textsVersion: textsVersion + 1 });
    draw(
      marks
        .filter(({ frame }) => !pending.has(frame))
        .map(({ frame, ...mark }) => [frame, mark] as const),
    );
    // To a guest the owner's history is not told.
    if (undo !== undefined && redo !== undefined) set({ undo, redo });
  },

  sortBy: (order) => {
    const { found } = get();
    set({ order, visible: found ? arranged({ ...get(), order }, found.ids) : [] });
  },

  showAlike: (alike) => {
    set({ alike });
    get().sortBy('alike');
  },

  fold: (groups) => set({ folded: groups }),

  follow: (on) => {
    if (on !== get().follows) set({ follows: on });
  },

  say: (text, wrong = false) => set({ notice: { text, wrong, at: Date.now() } }),
  hush: () => set({ notice: null }),
}));
