import { screen, waitFor } from '@testing-library/react';
import { expect, it } from 'vitest';

import type { Renaming, Shoot } from '../../../api/client';
import { answers, server, show } from '../../../testing/panel';
import { Rename } from './rename';

const shoot = { id: 7, name: 'Quay' } as Shoot;

/** The form, with a server that makes what it is asked for, and what it was asked. */
function shown() {
  const planned: string[] = [];
  const made: Renaming[] = [];
  const acts: string[] = [];
  server.use(
    answers.get('/api/deliveries/fields', ({ response }) =>
      response(200).json({ name: 'the name', seq: 'a number' }),
    ),
    answers.get('/api/shoots/{shoot}/renamings', ({ response }) => response(200).json(made)),
    answers.post('/api/shoots/{shoot}/renamings/plan', async ({ request, response }) => {
      const { template } = await request.json();
      planned.push(template);
      if (template.includes('/')) {
        return response(400).json({ detail: 'A name can’t hold a folder.' });
      }
      return response(200).json({
        frames: 2,
        files: 2,
        names: [{ name: 'QH_0001.jpg', copy_name: 'fair 01.jpg' }],
        numbered: [],
        left: [{ name: 'QH_0002', why: 'It is set aside.' }],
      });
    }),
    answers.post('/api/shoots/{shoot}/renamings', ({ response }) => {
      const renaming = {
        id: 3, state: 'done', made_at: 0, ended_at: 1, template: 'fair {seq:2}', frames: 2,
        steps: 2, done: 2, notice: '', pace: null,
      } as unknown as Renaming; // prettier-ignore
      made.unshift(renaming);
      return response(201).json(renaming);
    }),
    answers.post('/api/renamings/{renaming}/undo', ({ params, response }) => {
      acts.push(`undo ${params.renaming}`);
      made[0] = { ...made[0]!, state: 'undone' };
      return response(200).json(made[0]);
    }),
  );
  return { person: show(<Rename shoot={shoot} />), planned, acts };
}

it('shows what it would do, does it, and takes it back', async () => {
  const { person, planned, acts } = shown();
  const field = screen.getByLabelText('New names');
  expect(screen.getByText(/^Rename \d+ frames?$/).closest('button')).toBeDisabled();
  await person.clear(field);
  await person.paste('fair {seq:2}');
  await waitFor(() => expect(document.body).toHaveTextContent('QH_0001.jpg → fair 01.jpg'));
  expect(screen.getByRole('alert')).toHaveTextContent('QH_0002 keeps its name. It is set aside.');
  expect(planned.at(-1)).toBe('fair {seq:2}');
  await person.click(screen.getByText('Rename 2 frames'));
  await waitFor(() => expect(document.querySelector('[data-renaming=done]')).not.toBeNull());
  await person.click(document.querySelector('[data-renaming=done] button')!);
  await waitFor(() => expect(acts).toEqual(['undo 3']));
  await waitFor(() => expect(document.querySelector('[data-renaming=undone]')).not.toBeNull());
});

it('says why names can not be, and does nothing then', async () => {
  const { person } = shown();
  await person.clear(screen.getByLabelText('New names'));
  await person.paste('fair/{seq}');
  expect(await screen.findByText(/can’t hold a folder/)).toBeVisible();
  expect(screen.getByText(/^Rename \d+ frames?$/).closest('button')).toBeDisabled();
});
