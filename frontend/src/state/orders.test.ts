import { describe, expect, it } from 'vitest';

import type { Frame, Mark } from './frames';
import { bestOf, inOrder, runOf, unfolded } from './orders';
import { duration, tallyOf } from './tally';

const frames = new Map<number, Frame>();
const marks = new Map<number, Mark>();
const add = (id: number, group: number, name: string, blur: number, mark: Partial<Mark> = {}) => {
  frames.set(id, {
    id,
    group,
    name,
    blur,
    kind: 'JPEG',
    state: 2,
    picture: 2,
    key: 'k',
    missing: false,
    notice: '',
    shotAt: id,
    width: 3,
    height: 2,
    turned: 0,
    held: false,
    movedOut: false,
  });
  marks.set(id, { decision: 'undecided', stars: 0, label: null, ...mark });
};
add(1, 0, 'QH_10', 2, { stars: 3 });
add(2, 0, 'QH_9', 0.8);
add(3, 1, 'QH_11', 0.9, { decision: 'reject' });
add(4, 1, 'QH_12', 3, { decision: 'pick' });
add(5, 2, 'QH_13', 1);
const ids = [1, 2, 3, 4, 5];
const sorted = (order: Parameters<typeof inOrder>[1]) => inOrder(ids, order, frames, marks);

describe('orders', () => {
  it('go by time, name with its number, focus, stars and decision', () => {
    expect(sorted('time')).toEqual(ids);
    expect(sorted('name')).toEqual([2, 1, 3, 4, 5]);
    expect(sorted('focus')).toEqual([2, 3, 5, 1, 4]);
    expect(sorted('stars')).toEqual([1, 2, 3, 4, 5]);
    expect(sorted('decision')).toEqual([4, 1, 2, 5, 3]);
  });

  it('make runs: groups, or what is sorted by', () => {
    expect(ids.map((id) => runOf(frames.get(id)!, 'time', marks))).toEqual([0, 0, 1, 1, 2]);
    expect(ids.map((id) => runOf(frames.get(id)!, 'decision', marks))).toEqual([1, 1, 2, 0, 1]);
  });

  it('let the best frame stand for a folded group, or the active one', () => {
    expect(bestOf([1, 2], frames, marks)).toBe(1);
    expect(bestOf([3, 4], frames, marks)).toBe(4);
    expect(bestOf([2, 5], frames, marks)).toBe(2);
    expect(bestOf([2, 5], frames, marks, (id) => Number(id === 2))).toBe(5);
    expect(unfolded(ids, new Set([0, 1]), null, frames, marks)).toEqual([1, 4, 5]);
    expect(unfolded(ids, new Set([0, 1]), 3, frames, marks)).toEqual([1, 3, 5]);
  });
});

describe('the tally', () => {
  it('counts decisions, and groups without a pick', () => {
    expect(tallyOf([...frames.values()], marks)).toEqual({
      frames: 5,
      picks: 1,
      rejects: 1,
      undecided: 3,
      groups: 3,
      bare: [1, 5],
    });
  });

  it('says how long the rest takes', () => {
    expect(duration(20)).toBe('under a minute');
    expect(duration(250)).toBe('4 min');
    expect(duration(4800)).toBe('1 h 20 min');
  });
});
