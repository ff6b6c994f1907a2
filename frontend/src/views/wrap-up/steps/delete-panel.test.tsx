import { screen, waitFor } from '@testing-library/react';
import { expect, it, vi } from 'vitest';

import type { Deletion, Shoot } from '../../../api/client';
import { answers, server, show } from '../../../testing/panel';
import { DeletePanel } from './delete-panel';

const looked: Deletion = {
  stage: 'looked',
  done: 2,
  total: 2,
  deleted: 0,
  notice: '',
  problems: [],
  look: {
    frames: 1200, files: 1201, size: 5_000_000, only: ['QH_0002.dng'], only_files: 1,
    only_size: 4_000_000,
  },
}; // prettier-ignore

/** The panel, and what it asked to delete. */
function shown(look: Partial<NonNullable<Deletion['look']>> = {}) {
  const asked: unknown[] = [];
  const closed = vi.fn<() => void>();
  let state: Deletion = { ...looked, look: { ...looked.look!, ...look } };
  server.use(
    answers.post('/api/shoots/{shoot}/aside/deletion/look', ({ response }) =>
      response(202).json(state),
    ),
    answers.get('/api/shoots/{shoot}/aside/deletion', ({ response }) => response(200).json(state)),
    answers.post('/api/shoots/{shoot}/aside/deletion', async ({ request, response }) => {
      asked.push(await request.json());
      state = {
        ...state,
        stage: 'deleted',
        look: null,
        deleted: 1199,
        problems: [{ frame: 2, name: 'QH_0002', notice: 'No permission.' }] as never,
      };
      return response(202).json(state);
    }),
    answers.delete('/api/shoots/{shoot}/aside/deletion', ({ response }) =>
      response(200).json(state),
    ),
  );
  const person = show(<DeletePanel shoot={{ id: 7 } as Shoot} frames={null} onClose={closed} />);
  return { person, asked, closed };
}

it('wants the number of frames typed, and begins with the trash', async () => {
  const { person, asked, closed } = shown();
  const go = () => screen.getByRole('button', { name: 'Put in the trash' });
  const number = await screen.findByLabelText('Number of frames');
  expect(go()).toBeDisabled();
  await person.type(number, '1201{Enter}');
  expect(go()).toBeDisabled();
  await person.clear(number);
  await person.type(number, '1200');
  await person.click(go());
  expect(await screen.findByRole('status')).toHaveTextContent('1,199 frames deleted.');
  expect(screen.getByRole('alert')).toHaveTextContent('stays: No permission.');
  expect(asked).toEqual([{ number: 1200, trash: true }]);
  await person.click(screen.getByText('Close'));
  await waitFor(() => expect(closed).toHaveBeenCalledTimes(1));
});

it('names the files of which there is no other copy', async () => {
  shown();
  expect(await screen.findByText(/no other copy was found/)).toHaveTextContent(
    'Of 1 file (4.0 MB) no other copy was found:',
  );
  expect(screen.getByText('QH_0002.dng')).toBeVisible();
});

it('says where every file has a copy', async () => {
  const { person, closed } = shown({ only_files: 0, only: [] });
  expect(await screen.findByText(/has a copy elsewhere/)).toBeVisible();
  await person.click(screen.getByText('Leave them'));
  expect(closed).toHaveBeenCalledTimes(1);
});
