import { screen, waitFor } from '@testing-library/react';
import { expect, it } from 'vitest';

import type { Program } from '../../../api/client';
import { useShoot } from '../../../state/shoot';
import { answers, server, show } from '../../../testing/panel';
import { shoot } from '../../../testing/shoot';
import { HandOver } from './hand-over';

const editor: Program = { name: 'Editor', command: '/bin/edit {files}', which: 'raw' };

/** The step, and what was asked for. */
function shown(programs: Program[]) {
  const asked: unknown[] = [];
  let known = programs;
  const run = {
    id: 1,
    program: 'Editor',
    files: 3,
    started_at: 0,
    state: 'running',
    notice: '',
  } as const;
  server.use(
    answers.get('/api/programs', ({ response }) => response(200).json(known)),
    answers.put('/api/programs', async ({ request, response }) => {
      const body = await request.json();
      asked.push(body);
      known = [{ ...editor, ...body }];
      return response(200).json(known);
    }),
    answers.delete('/api/programs', ({ query, response }) => {
      asked.push(query.get('name'));
      return response(200).json([]);
    }),
    answers.get('/api/shoots/{shoot}/hand-over', ({ response }) => response(200).json([])),
    answers.post('/api/shoots/{shoot}/hand-over', async ({ request, response }) => {
      asked.push((await request.json()).program);
      return response(201).json([run]);
    }),
  );
  useShoot.setState({ decided: { ...useShoot.getState().decided, pick: 3 } });
  return { person: show(<HandOver shoot={shoot({})} />), asked };
}

it('starts the chosen program with the picks, and says how it is', async () => {
  const { person, asked } = shown([editor]);
  await person.click(await screen.findByRole('button', { name: 'Start it with 3 picks' }));
  expect(await screen.findByRole('status')).toHaveTextContent(
    'Editor is running, started with 3 files',
  );
  expect(asked).toEqual(['Editor']);
});

it('keeps a program and forgets it', async () => {
  const { person, asked } = shown([]);
  await person.click(await screen.findByRole('button', { name: 'Add a program' }));
  expect(screen.getByRole('button', { name: 'Keep the program' })).toBeDisabled();
  await person.type(screen.getByLabelText('Name'), 'Editor');
  await person.type(screen.getByLabelText('Command'), '/bin/edit');
  await person.selectOptions(screen.getByLabelText('Files'), 'raw');
  await person.click(screen.getByRole('button', { name: 'Keep the program' }));
  await person.click(await screen.findByRole('button', { name: 'change' }));
  await person.click(screen.getByRole('button', { name: 'forget it' }));
  await waitFor(() => expect(screen.queryByRole('button', { name: 'change' })).toBeNull());
  expect(asked).toEqual([{ name: 'Editor', command: '/bin/edit', which: 'raw' }, 'Editor']);
});
