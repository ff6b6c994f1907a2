import { screen, waitFor } from '@testing-library/react';
import { expect, it, vi } from 'vitest';

import type { Profile } from '../../../api/client';
import { answers, server, show } from '../../../testing/panel';
import { ProfilePanel } from './profile-panel';

const agency: Profile = {
  name: 'Agency',
  pick_good: false,
  pick_stars: 3,
  pick_label: '',
  reject_rating: true,
  reject_label: '',
  labels: {},
};

/** The panel, and what was asked of the server. */
function shown(profiles: Profile[], inUse: string, problem = '') {
  const previewed: Profile[] = [];
  const saved: Profile[] = [];
  const used = vi.fn<(name: string) => void>();
  server.use(
    answers.get('/api/labels', ({ response }) => response(200).json([])),
    answers.post('/api/shoots/{shoot}/profiles/preview', async ({ request, response }) => {
      previewed.push(await request.json());
      return response(200).json({ samples: [], problem, ambiguous: 0 });
    }),
    answers.put('/api/profiles', async ({ request, response }) => {
      saved.push(await request.json());
      return response(200).json([agency]);
    }),
    answers.delete('/api/profiles', ({ response }) => response(200).json([])),
  );
  const person = show(
    <ProfilePanel
      open
      onClose={vi.fn()}
      shootId={1}
      profiles={profiles}
      inUse={inUse}
      onUse={used}
    />,
  );
  return { person, previewed, saved, used };
}

it('is previewed as it is changed, and kept under a name', async () => {
  const { person, previewed, saved, used } = shown([], '');
  await person.selectOptions(screen.getByLabelText('Stars of a pick'), 'at least 3★');
  await waitFor(() => expect(previewed.at(-1)?.pick_stars).toBe(3));
  expect(screen.getByText('Keep and use').closest('button')).toBeDisabled();
  await person.type(screen.getByLabelText('Name of the profile'), 'Agency');
  await person.click(screen.getByText('Keep and use'));
  await waitFor(() => expect(used).toHaveBeenCalledWith('Agency'));
  expect(saved).toEqual([{ ...agency, pick_good: true }]);
});

it('in use can be removed', async () => {
  const { person, used } = shown([agency], 'Agency');
  expect(screen.getByLabelText('Stars of a pick')).toHaveValue('3');
  await person.click(screen.getByText('Remove “Agency”'));
  await waitFor(() => expect(used).toHaveBeenCalledWith(''));
});

it('that can not be told apart again says why', async () => {
  shown([], '', 'Two labels have the same text.');
  expect(await screen.findByText(/Two labels have the same text/)).toBeVisible();
});
