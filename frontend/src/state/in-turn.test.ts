import { expect, it } from 'vitest';

import { inTurn } from './in-turn';

/** A line of acts and the lists that they wait for. */
function line() {
  const done: string[] = [];
  let coming: Promise<boolean> | null = null;
  const turn = inTurn(() => coming);
  return {
    done,
    turn,
    press: (name: string, then?: () => void) =>
      turn.do(() => {
        done.push(name);
        then?.();
      }),
    /** A list is asked for; the returned function answers. */
    ask: () => {
      let answer: (came: boolean) => void = () => undefined;
      const list = new Promise<boolean>((resolve) => (answer = resolve));
      coming = list;
      return async (came = true) => {
        if (coming === list) coming = null;
        answer(came);
        await list;
        await Promise.resolve();
      };
    },
  };
}

it('does a thing at once where no list is on its way', () => {
  const { press, done } = line();
  press('step');
  expect(done).toEqual(['step']);
});

it('does what was pressed after a list was asked for when it is there, in that order', async () => {
  const { press, ask, done, turn } = line();
  const answer = ask();
  press('step');
  press('mark');
  expect(done).toEqual([]);
  expect(turn.isWaiting()).toBe(true);
  await answer();
  expect(done).toEqual(['step', 'mark']);
  expect(turn.isWaiting()).toBe(false);
});

it('waits again where one of them asks for another list', async () => {
  const { press, ask, done } = line();
  const first = ask();
  let second: () => Promise<void> = () => Promise.resolve();
  press('mark');
  press('show picks', () => (second = ask()));
  press('step');
  await first();
  expect(done).toEqual(['mark', 'show picks']);
  await second();
  expect(done).toEqual(['mark', 'show picks', 'step']);
});

it('drops what was meant for a list that never came', async () => {
  const { press, ask, done } = line();
  const answer = ask();
  press('mark');
  await answer(false);
  expect(done).toEqual([]);
  press('step');
  expect(done).toEqual(['step']);
});
