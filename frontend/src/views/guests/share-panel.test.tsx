import { screen, within } from '@testing-library/react';
import { expect, it } from 'vitest';

import type { Sharing } from '../../api/client';
import { answers, server, show } from '../../testing/panel';
import { NOT_SHARED } from '../../testing/sharing';
import { shoot } from '../../testing/shoot';
import { SharePanel } from './share-panel';

const ON: Sharing = {
  ...NOT_SHARED,
  on: true,
  may: ['mark'],
  shoot: 7,
  urls: ['https://192.0.2.7:8471/', 'https://studio.local:8471/'],
  code: 'data:image/svg+xml,x',
  fingerprint: 'AB:CD',
  guests: [{ id: 3, name: 'Ana', address: '192.0.2.9', since: 0, seen: 60 }],
};

function opened(sharing: Sharing) {
  const sent: unknown[] = [];
  let now = sharing;
  server.use(
    answers.get('/api/sharing', ({ response }) => response(200).json(now)),
    answers.put('/api/sharing', async ({ request, response }) => {
      sent.push(await request.json());
      now = { ...ON, guests: [] };
      return response(200).json(now);
    }),
    answers.delete('/api/sharing', ({ response }) => {
      now = NOT_SHARED;
      return response(200).json(now);
    }),
    answers.delete('/api/sharing/guests/{guest_id}', ({ params, response }) => {
      sent.push(params.guest_id);
      now = { ...now, guests: [] };
      return response(204).empty();
    }),
  );
  const person = show(<SharePanel shoot={shoot({ id: 7 })} open onClose={() => undefined} />);
  return { person, sent };
}

it('shares this shoot with a password that is long enough, and with what guests may', async () => {
  const { person, sent } = opened(NOT_SHARED);
  const button = await screen.findByRole('button', { name: 'Share this shoot' });
  const field = screen.getByLabelText(/Password for guests, 8 characters/);
  await person.type(field, 'a lante');
  expect(button).toBeDisabled();
  await person.type(field, 'rn');
  await person.click(screen.getByLabelText('write captions'));
  await person.click(button);
  expect(await screen.findByTestId('fingerprint')).toHaveTextContent('AB:CD');
  expect(sent).toEqual([{ shoot: 7, password: 'a lantern', may: ['mark'] }]);
  expect(screen.getByRole('heading', { name: 'Nobody is here yet' })).toBeVisible();
});

it('says that the sharing of another shoot ends', async () => {
  opened({ ...ON, shoot: 8 });
  expect(await screen.findByText(/Another shoot is shared now: that ends/)).toBeVisible();
});

it('says who is here and how to come, ends a session, and stops', async () => {
  const { person, sent } = opened(ON);
  expect(await screen.findByText('https://192.0.2.7:8471/')).toBeVisible();
  expect(screen.getByRole('img', { name: 'The address as a QR code' })).toBeVisible();
  expect(screen.getByText('They may: look, mark.')).toBeVisible();
  const guests = within(screen.getByRole('region', { name: 'Guests' }));
  expect(guests.getByRole('listitem')).toHaveTextContent('Ana192.0.2.9since');
  await person.click(guests.getByRole('button', { name: 'end the session' }));
  expect(await screen.findByRole('heading', { name: 'Nobody is here yet' })).toBeVisible();
  expect(sent).toEqual(['3']);
  await person.click(screen.getByRole('button', { name: 'Stop sharing' }));
  expect(await screen.findByRole('button', { name: 'Share this shoot' })).toBeDisabled();
});
