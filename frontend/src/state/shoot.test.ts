import { beforeEach, describe, expect, it } from 'vitest';

import type { FrameColumns, Found } from '../api/client';
import { applied } from './marking';
import { NO_FILTER, useShoot } from './shoot';
import { tallyOf } from './tally';

function columns(ids: number[]): FrameColumns {
  const each = <T>(value: T) => ids.map(() => value);
  return {
    id: ids,
    name: ids.map((id) => `QH_${id}`),
    kind: each('JPEG'),
    state: each(2),
    picture: each(2),
    key: each('k'),
    seen: [],
    missing: each(false),
    notice: {},
    shot_at: each(null),
    width: each(3),
    height: each(2),
    group: each(0),
    held: [],
    moved_out: [],
    pairs: [],
    undated: [],
    turned: each(0),
    blur: each(null),
    standing: each(-1),
    standings: [],
    decision: each('undecided' as const),
    stars: each(0),
    label: each(null),
  };
}

const found = (ids: number[]): Found => ({
  answer: '',
  ids,
  came: [],
  gone: [],
  words: '',
  shown: ids.length,
  total: 4,
  decisions: { pick: 0, undecided: 0, reject: 0 },
  stars: [],
  labels: {},
});

describe('the open shoot', () => {
  beforeEach(() => {
    const state = useShoot.getState();
    state.open(1, NO_FILTER, null);
    state.load(columns([1, 2, 3, 4]));
    state.show(found([1, 2, 3, 4]));
  });

  it('keeps a mark on its way when the frames are loaded anew', () => {
    const { draw, pending, load } = useShoot.getState();
    draw([[2, { decision: 'pick', stars: 0, label: null }]]);
    pending.set(2, 1);
    load(columns([1, 2, 3, 4]));
    expect(useShoot.getState().marks.get(2)?.decision).toBe('pick');
  });

  it('does not let another window draw over a mark on its way', () => {
    const { draw, pending, receive } = useShoot.getState();
    draw([[2, { decision: 'pick', stars: 0, label: null }]]);
    pending.set(2, 1);
    receive({
      marks: [
        { frame: 2, decision: 'reject', stars: 0, label: null },
        { frame: 3, decision: 'reject', stars: 0, label: null },
      ],
      texts: [],
      undo: 'x',
      redo: null,
    });
    const { marks, undo } = useShoot.getState();
    expect([marks.get(2)?.decision, marks.get(3)?.decision, undo]).toEqual(['pick', 'reject', 'x']);
  });

  it('keeps count of the decisions', () => {
    const { draw, load } = useShoot.getState();
    const mark = { stars: 0, label: null };
    draw([
      [1, { ...mark, decision: 'pick' }],
      [2, { ...mark, decision: 'reject' }],
      [9, { ...mark, decision: 'pick' }], // of a frame that is not loaded yet
    ]);
    draw([
      [1, { ...mark, decision: 'reject' }],
      [2, { ...mark, decision: 'reject' }],
      [3, { ...mark, decision: 'pick' }],
      [9, { ...mark, decision: 'reject' }],
    ]);
    const { decided, frames, marks } = useShoot.getState();
    expect(decided).toEqual({ pick: 1, reject: 2, undecided: 1 });
    expect(tallyOf(frames, marks)).toMatchObject({ picks: 1, rejects: 2, undecided: 1 });
    load(columns([1, 2]));
    expect(useShoot.getState().decided).toEqual({ pick: 0, reject: 0, undecided: 2 });
  });

  it('lets frames that are hidden out of the selection', () => {
    useShoot.getState().select([2, 3]);
    useShoot.getState().go(2);
    useShoot.getState().show(found([1, 3]));
    expect(useShoot.getState()).toMatchObject({ selection: [3], active: 3 });
  });

  it('stands on the first frame, whatever comes in, until the person moves', () => {
    const { show, go } = useShoot.getState();
    show(found([9, 1, 2]));
    expect(useShoot.getState().active).toBe(9);
    go(1);
    show(found([8, 9, 1, 2]));
    expect(useShoot.getState().active).toBe(1);
  });

  it('selects by click, with Ctrl and with Shift, in order', () => {
    const choose = (id: number, how: 'only' | 'toggle' | 'range') =>
      useShoot.getState().choose(id, how);
    choose(3, 'only');
    choose(1, 'toggle');
    expect(useShoot.getState().selection).toEqual([3, 1]);
    choose(3, 'toggle');
    expect(useShoot.getState().selection).toEqual([1]);
    choose(3, 'range');
    expect(useShoot.getState().selection).toEqual([1, 2, 3]);
    choose(2, 'only');
    expect(useShoot.getState()).toMatchObject({ selection: [], active: 2 });
  });

  it('makes edits part by part', () => {
    const mark = { decision: 'pick', stars: 2, label: 'R' } as const;
    expect(applied(mark, { stars: 0 })).toEqual({ ...mark, stars: 0 });
    expect(applied(mark, { label: '' })).toEqual({ ...mark, label: null });
  });
});
