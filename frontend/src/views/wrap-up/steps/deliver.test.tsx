import { screen } from '@testing-library/react';
import { expect, it } from 'vitest';

import type { Plan } from '../../../api/client';
import { answers, server, show } from '../../../testing/panel';
import { shoot } from '../../../testing/shoot';
import { Deliver } from './deliver';

const plan: Plan = {
  target: '/out',
  makes_folder: true,
  frames: 2,
  files: 5,
  size: 9_000_000,
  free: 10_000_000,
  renamed: [],
  already_there: 0,
  missing: [],
  changed: [],
  elsewhere: [],
  unchecked: [],
  linked: [],
  companions: 0,
  names: [],
};

/** The step, and what was asked for. */
function shown(planned: Partial<Plan> = {}) {
  const asked: unknown[] = [];
  server.use(
    answers.get('/api/recipes', ({ response }) => response(200).json([])),
    answers.get('/api/deliveries/fields', ({ response }) => response(200).json({})),
    answers.get('/api/folders', ({ response }) =>
      response(200).json({ folders: [], exists: true }),
    ),
    answers.get('/api/shoots/{shoot}/deliveries', ({ response }) => response(200).json([])),
    answers.post('/api/shoots/{shoot}/deliveries/plan', ({ response }) =>
      response(200).json({ ...plan, ...planned }),
    ),
    answers.post('/api/shoots/{shoot}/deliveries', async ({ request, response }) => {
      asked.push(await request.json());
      return response(400).json({ detail: 'Names of files changed just now.' });
    }),
  );
  const person = show(<Deliver shoot={shoot({})} />);
  const name = async () => {
    await person.type(screen.getByRole('combobox', { name: 'Folder for the copies' }), '/out');
    return screen.findByText(/to/, { selector: 'p' });
  };
  return { person, asked, name };
}

it('delivers nothing before a folder is named', () => {
  const { asked } = shown();
  expect(screen.getByRole('button', { name: /^Copy/ })).toBeDisabled();
  expect(asked).toEqual([]);
});

it('says what goes where, asks for that, and says what the server refuses', async () => {
  const { person, asked, name } = shown({ changed: ['QH_0001'] });
  await name();
  expect(await screen.findByText('5 files')).toBeVisible();
  expect(screen.getByText(/changed on disk since/)).toHaveTextContent('QH_0001');
  await person.selectOptions(screen.getByLabelText('How'), 'move');
  await person.click(screen.getByLabelText('with a manifest of checksums'));
  await person.click(await screen.findByRole('button', { name: 'Move 2 picks' }));
  expect(await screen.findByText('Names of files changed just now.')).toBeVisible();
  expect(asked).toEqual([
    expect.objectContaining({ target: '/out', how: 'move', manifest: true, sidecars: true }),
  ]);
});

it('delivers nothing where there is not enough room', async () => {
  const { name } = shown({ size: 20_000_000 });
  await name();
  expect(await screen.findByText('The disk has not enough space.')).toBeVisible();
  expect(screen.getByRole('button', { name: /^Copy/ })).toBeDisabled();
});
