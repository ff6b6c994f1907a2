import { expect, test } from 'vitest';

import { beginBulk, flipFrame, flipKind, leftIf, showKind, useBulk } from './bulk';

test('what rejecting would leave of each group', () => {
  const frames = [1, 2, 3, 4].map((id) => ({ id, group: id < 4 ? 0 : 1 }));
  const left = leftIf(frames, (id) => id === 2, new Set([3, 4]));
  expect(left.get(0)).toEqual({ left: 1, of: 3 });
  expect(left.get(1)).toEqual({ left: 0, of: 1 });
});

test('ticks stay while a frame is seen large, and go with the shoot', () => {
  beginBulk(1, null);
  flipFrame(7);
  flipKind('eyes_closed');
  showKind('bright');
  beginBulk(1, null);
  expect([...useBulk.getState().off]).toEqual([7]);
  expect([...useBulk.getState().chosen]).toEqual(['eyes_closed']);
  expect(useBulk.getState().shown).toBe('bright');
  flipFrame(7);
  expect(useBulk.getState().off.size).toBe(0);
  beginBulk(2, 'motion');
  expect(useBulk.getState().shown).toBe('motion');
  expect(useBulk.getState().chosen.size).toBe(0);
});
