import { beforeEach, expect, test, vi } from 'vitest';

import { api } from '../api/client';
import { useDraft } from './draft';
import { settled } from './marking';
import { NO_FILTER, useShoot } from './shoot';
import {
  asked,
  askOther,
  keepIt,
  letGo,
  loadNumber,
  pairOf,
  questionBack,
  useNumber,
  wayTo,
} from './to-number';

const question = (frame: number, beside: number | null, others: number[] = []) => ({
  frame,
  beside,
  others,
  words: '',
});
const CHANGE = { marks: [], texts: [], undo: 'a mark', redo: null, sentence: 'a mark' };
let sent: { path: string; body?: unknown }[] = [];
let next: ReturnType<typeof question>[] = [];

beforeEach(() => {
  sent = [];
  useShoot.getState().open(1, NO_FILTER, null);
  useNumber.setState({ shootId: 0 });
  useDraft.setState({ rest: 'reject' });
  const answer = (path: string, options: { body?: unknown }) => {
    sent.push({ path: path.split('/').at(-1)!, body: options.body });
    const data = path.endsWith('number')
      ? { picked: 0, target: 2, questions: next }
      : path.endsWith('find')
        ? { ids: [], words: '', shown: 0, total: 0, decisions: {}, stars: [], labels: {} }
        : CHANGE;
    return Promise.resolve({ data, response: new Response() });
  };
  vi.spyOn(api, 'POST').mockImplementation(answer as never);
  vi.spyOn(api, 'GET').mockImplementation(answer as never);
});

function picks(number: number): void {
  useShoot.setState({ decided: { pick: number, reject: 0, undecided: 0 } });
}

const last = (path: string) => sent.filter((call) => call.path === path).at(-1);

test('the way goes down from too many picks, and up from too few', () => {
  expect([wayTo(2, 3), wayTo(2, 2), wayTo(2, 1), wayTo(null, 5)]).toEqual([
    'trim',
    'there',
    'fill',
    'there',
  ]);
  // Two picks stay in their places, whichever goes; a new frame takes the place of another.
  expect(pairOf(question(5, 4, [4]), 4, 'trim')).toEqual([5, 4]);
  expect(pairOf(question(5, 4, [6]), 6, 'fill')).toEqual([6, 4]);
  expect(pairOf(question(5, null), 5, 'fill')).toEqual([5]);
  expect(pairOf(question(5, null, [6, 7]), 6, 'fill')).toEqual([6, 5]);
});

test('trimming, one of two goes, or both stay and are not asked for again', async () => {
  picks(4);
  next = [question(5, 4, [4]), question(7, 6, [6])];
  await loadNumber();
  expect(asked(useNumber.getState()).frame).toBe(5);
  askOther(1);
  expect(asked(useNumber.getState()).frame).toBe(4);
  next = [question(7, 6, [6])];
  letGo();
  // The next question is there before the answer is stored.
  expect(asked(useNumber.getState()).frame).toBe(7);
  await settled();
  expect(last('groups')?.body).toMatchObject({ groups: [{ keep: [], out: [4] }] });
  next = [];
  keepIt();
  await vi.waitFor(() => expect(last('number')?.body).toEqual({ settled: [7, 6] }));
  questionBack();
  await vi.waitFor(() => expect(last('number')?.body).toEqual({ settled: [] }));
  expect(last('undo')).toBeUndefined();
  // What was marked is taken back with its question.
  questionBack();
  await vi.waitFor(() => expect(last('undo')).toBeDefined());
});

test('the question under the hand stays while the analysis goes on', async () => {
  picks(4);
  const pick = { decision: 'pick', stars: 0, label: null } as const;
  useShoot.setState({ marks: new Map([4, 5, 6, 7].map((id) => [id, pick])) });
  next = [question(5, 4, [4]), question(7, 6, [6])];
  await loadNumber();
  next = [question(7, 6, [6]), question(6, 5, [5])];
  await loadNumber();
  expect(useNumber.getState().questions.map(({ frame }) => frame)).toEqual([5, 7, 6]);
  // Another window let one of the two go: it can't be asked any more.
  useShoot.setState({ marks: new Map([5, 6, 7].map((id) => [id, pick])) });
  await loadNumber();
  expect(asked(useNumber.getState()).frame).toBe(7);
});

test('what goes can be left undecided', async () => {
  picks(3);
  useDraft.setState({ rest: 'leave' });
  next = [question(5, 4, [4])];
  await loadNumber();
  letGo();
  await settled();
  expect(last('groups')?.body).toMatchObject({ groups: [{ keep: [], out: [], open: [5] }] });
});

test('filling up, a frame is picked, or its group is left as it is', async () => {
  picks(0);
  next = [question(5, 4, [6]), question(9, null)];
  await loadNumber();
  askOther(-1);
  expect(asked(useNumber.getState()).frame).toBe(6);
  keepIt();
  await settled();
  expect(last('groups')?.body).toMatchObject({ groups: [{ keep: [6], out: [] }] });
  picks(1);
  next = [question(9, null, [10])];
  await loadNumber();
  letGo();
  await vi.waitFor(() => expect(last('number')?.body).toEqual({ settled: [9, 10] }));
});
