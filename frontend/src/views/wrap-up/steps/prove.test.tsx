import { screen } from '@testing-library/react';
import { expect, it } from 'vitest';

import type { Proofs } from '../../../api/client';
import { useShoot } from '../../../state/shoot';
import { answers, server, show } from '../../../testing/panel';
import { shoot } from '../../../testing/shoot';
import { Prove } from './prove';

const idle: Proofs = {
  made: [],
  making: { running: false, kind: 'pdf', done: 0, total: 0, place: '', notice: '' },
};

/** The step, and what was asked for; ``unprintable`` of what was typed. */
function shown(making: Partial<Proofs['making']> = {}, unprintable = '') {
  const asked: unknown[] = [];
  server.use(
    answers.get('/api/folders', ({ response }) =>
      response(200).json({ folders: [], exists: true }),
    ),
    answers.get('/api/labels', ({ response }) => response(200).json([])),
    answers.get('/api/shoots/{shoot}/proofs', ({ response }) =>
      response(200).json({ ...idle, making: { ...idle.making, ...making } }),
    ),
    answers.post('/api/shoots/{shoot}/proofs/plan', ({ response }) =>
      response(200).json({ place: '/out/Fair.pdf', frames: 40, pages: 2, height: 43, unprintable }),
    ),
    answers.post('/api/shoots/{shoot}/proofs', async ({ request, response }) => {
      asked.push((await request.json()).proof);
      return response(202).json({
        ...idle,
        making: { ...idle.making, notice: 'The disk is full.' },
      });
    }),
    answers.delete('/api/shoots/{shoot}/proofs', ({ response }) => {
      asked.push('stop');
      return response(200).json(idle);
    }),
  );
  useShoot.setState({ decided: { ...useShoot.getState().decided, pick: 40 } });
  return { person: show(<Prove shoot={shoot({})} />), asked };
}

it('says what a contact sheet would be, makes it, and says why it was not made', async () => {
  const { person, asked } = shown({}, '☃');
  const make = await screen.findByRole('button', { name: 'Make the gallery' });
  expect(make).toBeDisabled();
  await person.click(screen.getByLabelText('a contact sheet as PDF'));
  await person.type(screen.getByRole('combobox', { name: 'Folder for the proof' }), '/out');
  expect(await screen.findByText('/out/Fair.pdf')).toBeVisible();
  expect(screen.getByText(/on 2 pages, pictures 43 mm high/)).toBeVisible();
  expect(screen.getByRole('alert')).toHaveTextContent('print as boxes: ☃');
  await person.click(screen.getByRole('button', { name: 'Make the contact sheet' }));
  expect(await screen.findByText('The disk is full.')).toBeVisible();
  expect(asked).toEqual([expect.objectContaining({ kind: 'pdf', title: 'Fair', paper: 'A4' })]);
});

it('shows how far it is, and stops it', async () => {
  const { person, asked } = shown({ running: true, kind: 'pdf', done: 10, total: 40 });
  expect(await screen.findByText('10 of 40 frames')).toBeVisible();
  await person.click(screen.getByRole('button', { name: 'Stop making it' }));
  expect(await screen.findByRole('button', { name: 'Make the gallery' })).toBeVisible();
  expect(asked).toEqual(['stop']);
});
