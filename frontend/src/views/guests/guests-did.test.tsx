import { screen } from '@testing-library/react';
import { expect, it } from 'vitest';

import { answers, server, show } from '../../testing/panel';
import { NOT_SHARED } from '../../testing/sharing';
import { shoot } from '../../testing/shoot';
import { useShoot } from '../../state/shoot';
import { GuestsDid } from './guests-did';

const WAITING = [
  { by: 'Ana', steps: 2, frames: [1, 2] },
  { by: 'Ben', steps: 1, frames: [2] },
];

function shown(guest = '') {
  let waiting = WAITING;
  const asked: string[] = [];
  server.use(
    answers.get('/api/sharing', ({ response }) =>
      response(200).json({ ...NOT_SHARED, on: true, guest, shoot: 7 }),
    ),
    answers.get('/api/shoots/{shoot}/guests', ({ response }) => {
      asked.push('list');
      return response(200).json(waiting);
    }),
    answers.post('/api/shoots/{shoot}/guests/take', ({ response }) => {
      asked.push('take');
      waiting = [];
      return response(200).json([]);
    }),
    answers.post('/api/shoots/{shoot}/guests/take-back', ({ response }) => {
      asked.push('back');
      waiting = [];
      return response(200).json({
        undo: null,
        redo: null,
        sentence: 'taken back: what Ana did',
        marks: [],
        texts: [],
      });
    }),
  );
  return { person: show(<GuestsDid shoot={shoot({ id: 7 })} />), asked };
}

it('says who changed what, selects it, and takes it over', async () => {
  const { person, asked } = shown();
  expect(await screen.findByRole('status')).toHaveTextContent(
    'Guests changed marks or texts: Ana (2 frames), Ben (1 frame). Nothing of it is written',
  );
  await person.click(screen.getByRole('button', { name: 'select them' }));
  expect(useShoot.getState().selection).toEqual([1, 2]);
  await person.click(screen.getByRole('button', { name: 'take over' }));
  await expect.poll(() => screen.queryByRole('status')).toBeNull();
  expect(asked).toEqual(['list', 'take', 'list']);
});

it('takes it back', async () => {
  const { person, asked } = shown();
  await person.click(await screen.findByRole('button', { name: 'take back' }));
  await expect.poll(() => screen.queryByRole('status')).toBeNull();
  expect(asked).toEqual(['list', 'back', 'list']);
});
