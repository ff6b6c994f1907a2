import { screen, waitFor, within } from '@testing-library/react';
import { beforeEach, expect, it, vi } from 'vitest';

import type { Filter, People, Person } from '../../api/client';
import { useShoot } from '../../state/shoot';
import { answers, server, show } from '../../testing/panel';
import { PeoplePanel } from './people-panel';

const face = (frame: number) => ({ frame, box: [0.4, 0.4, 0.5, 0.6], closed: false });

function person(number: number, picks: number[], more: Partial<Person> = {}): Person {
  const faces = [1, 2, 3].map((n) => face(10 * number + n));
  return { number, faces, best: 0, picks, open_picks: picks, maybe: [], ...more };
}

const OFF: People = {
  on: false, can: true, waits: false, left: 0, people: [], unsure: [], said: false,
}; // prettier-ignore

beforeEach(() => useShoot.setState({ shootId: 7, marksVersion: 0 }));

function shown(first: People) {
  let people = first;
  const asked: unknown[] = [];
  const filtered = vi.fn<(filter: Filter) => void>();
  server.use(
    answers.get('/api/shoots/{shoot}/people', ({ response }) => response(200).json(people)),
    answers.put('/api/shoots/{shoot}/people', ({ response }) => {
      people = { ...people, on: true, waits: true, left: 12 };
      return response(200).json(people);
    }),
    answers.delete('/api/shoots/{shoot}/people', ({ response }) => {
      people = OFF;
      return response(200).json(people);
    }),
    answers.post('/api/shoots/{shoot}/people/join', async ({ request, response }) => {
      asked.push(await request.json());
      people = { ...people, said: true };
      return response(200).json(people);
    }),
    answers.post('/api/shoots/{shoot}/people/out', async ({ request, response }) => {
      asked.push(await request.json());
      return response(200).json(people);
    }),
    answers.post('/api/shoots/{shoot}/people/undo', ({ response }) => {
      people = { ...people, said: false };
      return response(200).json(people);
    }),
  );
  const user = show(<PeoplePanel shootId={7} open onClose={vi.fn()} onFilter={filtered} />);
  return { user, asked, filtered };
}

const told: People = {
  ...OFF,
  on: true,
  people: [person(1, [11, 12], { open_picks: [11] }), person(2, [], { maybe: [3] }), person(3, [])],
};

it('is off until it is switched on, and says how far it is', async () => {
  const { user } = shown(OFF);
  await user.click(await screen.findByRole('button', { name: 'Tell people apart in this shoot' }));
  expect(await screen.findByText('12 frames still to look at.')).toBeVisible();
});

it('says who has no pick, and in how many picks eyes are closed', async () => {
  shown(told);
  expect(await screen.findByText(/Without a pick: person 2, person 3/)).toBeVisible();
  const first = screen.getByRole('listitem', { name: 'Person 1' });
  expect(first).toHaveTextContent('3 frames · 2 picks, eyes closed in 1 of them');
});

it('filters by a person', async () => {
  const { user, filtered } = shown(told);
  const second = await screen.findByRole('listitem', { name: 'Person 2' });
  await user.click(within(second).getByRole('button', { name: 'Show these frames' }));
  expect(filtered.mock.calls[0]![0].written).toBe('person 2');
});

it('joins two rows, takes a face out, and takes that back', async () => {
  const { user, asked } = shown(told);
  const second = await screen.findByRole('listitem', { name: 'Person 2' });
  await user.click(within(second).getByRole('button', { name: 'The same' }));
  await waitFor(() => expect(asked).toEqual([{ one: 2, other: 3 }]));
  await user.click(within(second).getByRole('button', { name: 'All faces' }));
  const out = within(second).getAllByRole('button', { name: /take the face out/ });
  await user.click(out[1]!);
  await waitFor(() => expect(asked).toContainEqual({ frame: 22, x: 0.45, y: 0.5 }));
  await user.click(screen.getByRole('button', { name: 'Take back what you said last' }));
  await waitFor(() => expect(screen.queryByText('Take back what you said last')).toBeNull());
});

it('forgets everybody only when that is said twice', async () => {
  const { user } = shown(told);
  await user.click(await screen.findByRole('button', { name: 'Forget everybody …' }));
  await user.click(screen.getByRole('button', { name: 'Keep it' }));
  await user.click(screen.getByRole('button', { name: 'Forget everybody …' }));
  await user.click(screen.getByRole('button', { name: 'Forget everybody' }));
  expect(
    await screen.findByRole('button', { name: 'Tell people apart in this shoot' }),
  ).toBeVisible();
});
