import { beforeEach, expect, test, vi } from 'vitest';

import { api, type Settings } from '../api/client';
import { mark, markThese, settled } from './marking';
import { NO_FILTER, useShoot } from './shoot';

const asked: string[] = [];
const FOUND = {
  ids: [1, 2, 3],
  words: '',
  shown: 3,
  total: 3,
  decisions: {},
  stars: [],
  labels: {},
};
const CHANGE = { marks: [], texts: [], undo: 'a mark', redo: null, sentence: '' };

function answering(of: (last: string) => { data?: object; error?: object; status?: number }): void {
  const answer = (path: string) => {
    const last = path.split('/').at(-1)!;
    asked.push(last);
    const { status, ...rest } = of(last);
    return Promise.resolve({ ...rest, response: new Response(null, { status: status ?? 200 }) });
  };
  vi.spyOn(api, 'POST').mockImplementation(answer as never);
  vi.spyOn(api, 'GET').mockImplementation(answer as never);
}

beforeEach(() => {
  asked.length = 0;
  useShoot.getState().open(1, NO_FILTER, null);
});

test('marks are sent each in its turn, and what passes is asked for once behind them', async () => {
  answering((last) => ({ data: last === 'find' ? FOUND : CHANGE }));
  for (const id of [1, 2, 3]) markThese([id], { decision: 'pick' });
  await settled();
  expect(asked).toEqual(['marks', 'marks', 'marks', 'find']);
  expect(useShoot.getState().visible).toEqual([1, 2, 3]);
  expect(useShoot.getState().pending.size).toBe(0);
});

test('a mark that is not stored is said, and what is stored is asked for', async () => {
  answering(() => ({ error: { detail: 'The disk is full.' }, status: 503 }));
  markThese([1], { decision: 'pick' });
  await settled();
  expect(asked).toEqual(['marks', 'frames']);
  expect(useShoot.getState().notice).toMatchObject({ wrong: true });
  expect(useShoot.getState().notice?.text).toContain('The disk is full.');
});

test('turned round, a mark stays where it would go on, and goes on where it would stay', async () => {
  answering((last) => ({ data: last === 'find' ? FOUND : CHANGE }));
  useShoot.setState({ visible: [1, 2, 3], active: 1, moved: true });
  const settings = (decision: 'stay' | 'next') =>
    ({ after: { decision, stars: 'stay', label: 'stay' } }) as Settings;
  const at = () => useShoot.getState().active;
  mark({ decision: 'pick' }, settings('next'), [], { turned: true });
  expect(at()).toBe(1);
  mark({ decision: 'pick' }, settings('stay'), [], { turned: true });
  expect(at()).toBe(2);
  mark({ stars: 3 }, settings('stay'), [], { turned: true });
  expect(at()).toBe(3);
  await settled();
});

test('of a folded group, a mark says that it is for the frame that is seen', async () => {
  answering((last) => ({ data: last === 'find' ? FOUND : CHANGE }));
  useShoot.setState({ visible: [1, 2, 3], active: 1, moved: true });
  const settings = { after: { decision: 'next', stars: 'stay', label: 'stay' } } as Settings;
  mark({ decision: 'pick' }, settings, [], { among: [1, 3], folded: 2 });
  expect(useShoot.getState().notice?.text).toBe('picked: only the one seen of 2 folded');
  // What is hidden is not gone to.
  expect(useShoot.getState().active).toBe(3);
  await settled();
});
