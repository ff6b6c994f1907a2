import { screen, waitFor } from '@testing-library/react';
import { expect, it, vi } from 'vitest';

import type { Recipe } from '../../../api/client';
import { useShoot } from '../../../state/shoot';
import { answers, server, show } from '../../../testing/panel';
import { Recipes } from './recipes';

const wish: Recipe = { name: '', target: '/out', template: '{shoot}/{seq:3}' } as Recipe;
const client: Recipe = { ...wish, name: 'For the client' };

it('keeps the wish of now under a name, and forgets it', async () => {
  const asked: unknown[] = [];
  server.use(
    answers.get('/api/recipes', ({ response }) => response(200).json([])),
    answers.put('/api/recipes', async ({ request, response }) => {
      asked.push(await request.json());
      return response(200).json([client]);
    }),
    answers.delete('/api/recipes', ({ query, response }) => {
      asked.push(query.get('name'));
      return response(200).json([]);
    }),
  );
  const person = show(<Recipes wish={wish} onUse={vi.fn()} />);
  expect(screen.queryByText('Keep')).toBeNull();
  await person.type(screen.getByLabelText('Name of a new recipe'), ' For the client {Enter}');
  await waitFor(() => expect(screen.getByLabelText('Recipe')).toHaveValue('For the client'));
  expect(asked).toEqual([client]);
  expect(screen.getByLabelText('Name of a new recipe')).toHaveValue('');
  await person.click(screen.getByText('forget it'));
  await waitFor(() => expect(screen.queryByLabelText('Recipe')).toBeNull());
  expect(asked).toEqual([client, 'For the client']);
});

it('hands the chosen one on', async () => {
  server.use(answers.get('/api/recipes', ({ response }) => response(200).json([client])));
  const used = vi.fn<(recipe: Recipe) => void>();
  const person = show(<Recipes wish={wish} onUse={used} />);
  await person.selectOptions(await screen.findByLabelText('Recipe'), 'For the client');
  expect(used).toHaveBeenCalledExactlyOnceWith(client);
});

it('says what the server refuses', async () => {
  server.use(
    answers.get('/api/recipes', ({ response }) => response(200).json([])),
    answers.put('/api/recipes', ({ response }) =>
      response(400).json({ detail: 'A brace stands alone.' }),
    ),
  );
  const person = show(<Recipes wish={wish} onUse={vi.fn()} />);
  await person.type(screen.getByLabelText('Name of a new recipe'), 'Bad');
  await person.click(screen.getByText('Keep'));
  await waitFor(() => expect(useShoot.getState().notice?.text).toBe('A brace stands alone.'));
});
