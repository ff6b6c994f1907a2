import { screen, waitFor } from '@testing-library/react';
import { expect, it, vi } from 'vitest';

import type { TextTemplate } from '../../api/client';
import { answers, server, show } from '../../testing/panel';
import { Templates } from './templates';

const evening: TextTemplate = { name: 'Evening', put: { title: 'Lanterns' }, add: ['quay'] };

it('is changed with fields in braces, and kept whole', async () => {
  const asked: unknown[] = [];
  server.use(
    answers.get('/api/text-templates', ({ response }) => response(200).json([evening])),
    answers.get('/api/texts/filled', ({ response }) =>
      response(200).json([{ name: 'city', words: 'the city' }]),
    ),
    answers.put('/api/text-templates', async ({ request, response }) => {
      asked.push(await request.json());
      return response(200).json([evening]);
    }),
  );
  const person = show(<Templates frames={[1]} found={undefined} onProblem={vi.fn()} />);
  await person.click(await screen.findByLabelText('Change template Evening'));
  expect(await screen.findByText('{city}')).toBeInTheDocument();
  const title = screen.getByLabelText('Title of the template');
  expect(title).toHaveValue('Lanterns');
  await person.clear(title);
  await person.type(title, '{{name} in {{city}');
  await person.type(screen.getByLabelText('Creator of the template'), 'Ann; Ben');
  await person.type(screen.getByLabelText('Keywords to add of the template'), '; dusk ;');
  await person.click(screen.getByText('Keep'));
  await waitFor(() =>
    expect(asked).toEqual([
      {
        name: 'Evening',
        put: { title: '{name} in {city}', creators: ['Ann', 'Ben'] },
        add: ['quay', 'dusk'],
      },
    ]),
  );
});

it('says what the server refuses, and keeps what was typed', async () => {
  server.use(
    answers.get('/api/text-templates', ({ response }) => response(200).json([evening])),
    answers.get('/api/texts/filled', ({ response }) => response(200).json([])),
    answers.put('/api/text-templates', ({ response }) =>
      response(400).json({ detail: 'There is no field {nix}.' }),
    ),
  );
  const problem = vi.fn<(words: string) => void>();
  const person = show(<Templates frames={[1]} found={undefined} onProblem={problem} />);
  await person.click(await screen.findByLabelText('Change template Evening'));
  await person.type(screen.getByLabelText('City of the template'), '{{nix}');
  await person.click(screen.getByText('Keep'));
  await waitFor(() => expect(problem).toHaveBeenCalledWith('There is no field {nix}.'));
  expect(screen.getByLabelText('City of the template')).toHaveValue('{nix}');
});
