import { screen } from '@testing-library/react';
import { expect, it } from 'vitest';

import type { Aside, Shoot } from '../../../api/client';
import { answers, server, show } from '../../../testing/panel';
import { SetAside } from './set-aside';

const nothing: Aside = {
  rejects: { frames: 0, files: 0, size: 0 },
  held: { frames: 0, files: 0, size: 0 },
  held_frames: [],
  folders: [],
  running: false,
  back: false,
  done: 0,
  total: 0,
  moved: null,
  notice: '',
  problems: [],
};
const rejects: Aside = {
  ...nothing,
  rejects: { frames: 1200, files: 2400, size: 5_000_000_000 },
  folders: ['/fair set aside'],
};

/** The step, and what was asked for; `after` is how it stands once that is done. */
function shown(before: Aside, after: Partial<Aside> = {}) {
  const asked: unknown[] = [];
  let state = before;
  const done = async (request: Request) => {
    asked.push(await request.json());
    state = { ...state, ...after };
    return state;
  };
  server.use(
    answers.get('/api/shoots/{shoot}/aside', ({ response }) => response(200).json(state)),
    answers.post('/api/shoots/{shoot}/aside', async ({ request, response }) =>
      response(202).json(await done(request)),
    ),
    answers.post('/api/shoots/{shoot}/aside/back', async ({ request, response }) =>
      response(202).json(await done(request)),
    ),
    answers.delete('/api/shoots/{shoot}/aside', ({ response }) => {
      asked.push('stop');
      state = { ...state, running: false };
      return response(200).json(state);
    }),
  );
  return { person: show(<SetAside shoot={{ id: 7 } as Shoot} />), asked };
}

it('says how much goes where, and offers nothing where there is no reject', async () => {
  shown(nothing);
  expect(await screen.findByText('No reject is in the shoot’s folder.')).toBeVisible();
  expect(screen.getByRole('button', { name: /aside/ })).toBeDisabled();
});

it('sets every reject aside, and names those that stay', async () => {
  const { person, asked } = shown(rejects, {
    moved: 1199,
    problems: [{ frame: 2, notice: 'QH_0002.jpg: there is no permission.' }] as never,
  });
  expect(await screen.findByText('/fair set aside')).toBeVisible();
  await person.click(screen.getByRole('button', { name: 'Set 1,200 rejects aside' }));
  const result = await screen.findByTestId('moved');
  expect(result).toHaveTextContent('1,199 frames set aside, 1 frame left in place.');
  expect(result).toHaveTextContent('there is no permission.');
  expect(asked).toEqual([{}]);
});

it('says why a move ended before its end', async () => {
  const { person } = shown(rejects, { notice: 'The disk is full. Free some space and try again.' });
  await person.click(await screen.findByRole('button', { name: 'Set 1,200 rejects aside' }));
  expect(await screen.findByRole('alert')).toHaveTextContent('The disk is full.');
});

it('shows how far a move is, and stops it', async () => {
  const { person, asked } = shown({ ...rejects, running: true, done: 300, total: 1200 });
  expect(await screen.findByRole('progressbar')).toHaveAttribute('value', '300');
  await person.click(screen.getByRole('button', { name: 'Stop moving' }));
  expect(asked).toEqual(['stop']);
});
