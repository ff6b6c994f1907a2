import { screen, waitFor } from '@testing-library/react';
import { beforeEach, expect, it } from 'vitest';

import type { People } from '../../api/client';
import { useShoot } from '../../state/shoot';
import { face } from '../../testing/face';
import { answers, server, show } from '../../testing/panel';
import { WhoCounts } from './who-counts';

const PEOPLE: People = {
  on: false, can: true, waits: false, left: 0, people: [], unsure: [], said: false,
}; // prettier-ignore
const SEEN = face({ frame: 5, box: [0.4, 0.4, 0.5, 0.6] });

beforeEach(() => useShoot.setState({ shootId: 7, notice: null }));

function shown(row: Parameters<typeof WhoCounts>[0]['faces'], on = false) {
  const asked: unknown[] = [];
  server.use(
    answers.get('/api/shoots/{shoot}/people', ({ response }) =>
      response(200).json({ ...PEOPLE, on }),
    ),
    answers.put('/api/shoots/{shoot}/faces/counts', async ({ request, response }) => {
      asked.push(await request.json());
      return response(200).json({ frames: 3 });
    }),
  );
  return { user: show(<WhoCounts faces={row} />), asked };
}

it('says of every face of a row that it counts most', async () => {
  const { user, asked } = shown([SEEN, null, face({ frame: 6 })]);
  await user.click(screen.getByRole('button', { name: /counts like the others/ }));
  const [inGroup] = await screen.findAllByRole('menuitem', { name: /counts most/ });
  await user.click(inGroup!);
  const place = { x: expect.closeTo(0.45) as number, y: expect.closeTo(0.5) as number };
  await waitFor(() =>
    expect(asked).toEqual([
      {
        faces: [
          { frame: 5, ...place },
          { frame: 6, ...place },
        ],
        weight: 'most',
        everywhere: false,
      },
    ]),
  );
  await waitFor(() =>
    expect(useShoot.getState().notice?.text).toBe(
      'This face counts most in 3 frames; the order of its frames follows',
    ),
  );
});

it('offers the whole shoot only where people are told apart', async () => {
  const { user } = shown([SEEN]);
  await user.click(screen.getByRole('button'));
  await screen.findByText(/once people are told apart/);
  const items = screen.getAllByRole('menuitem', { name: /doesn’t count/ });
  expect(items.map((item) => item.hasAttribute('data-disabled'))).toEqual([false, true]);
});

it('says what was said of a face, and of somebody in the whole shoot', async () => {
  const { user, asked } = shown([SEEN, face({ frame: 6, weight: 'none' })], true);
  await user.click(screen.getByRole('button', { name: /– doesn’t count/ }));
  await screen.findByText('In the whole shoot');
  const [, , , , likeOthers] = screen.getAllByRole('menuitem');
  await waitFor(() => expect(likeOthers!.hasAttribute('data-disabled')).toBe(false));
  await user.click(likeOthers!);
  await waitFor(() => expect(asked).toMatchObject([{ weight: '', everywhere: true }]));
});
