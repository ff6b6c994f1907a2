import { screen } from '@testing-library/react';
import { expect, it } from 'vitest';

import type { Settings } from '../api/client';
import { answers, server, show } from '../testing/panel';
import { useSettings } from '../state/settings';
import { OnceKnown } from './once-known';

function Keys() {
  const [settings] = useSettings();
  return <p>keys: {settings.keys.name}</p>;
}

const settings = { keys: { name: 'Left hand', keys: {} } } as unknown as Settings;
const labels = answers.get('/api/labels', ({ response }) => response(200).json([]));

it('shows nothing that acts before the settings are known: a key would do what it does no more', async () => {
  let give = () => {};
  const asked = new Promise<void>((resolve) => {
    server.use(
      labels,
      answers.get('/api/settings', async ({ response }) => {
        resolve();
        await new Promise<void>((go) => (give = go));
        return response(200).json(settings);
      }),
    );
  });
  show(
    <OnceKnown>
      <Keys />
    </OnceKnown>,
  );
  await asked;
  expect(screen.queryByText(/keys:/)).toBeNull();
  expect(screen.getByText('Opening …')).toBeVisible();
  give();
  expect(await screen.findByText('keys: Left hand')).toBeVisible();
});

it('says why where they can not be had, and tries again', async () => {
  let broken = true;
  server.use(
    labels,
    answers.get('/api/settings', ({ response }) =>
      broken
        ? response.untyped(Response.json({ detail: 'The database is locked.' }, { status: 500 }))
        : response(200).json(settings),
    ),
  );
  const person = show(
    <OnceKnown>
      <Keys />
    </OnceKnown>,
  );
  expect(await screen.findByRole('alert')).toHaveTextContent('The database is locked.');
  broken = false;
  await person.click(screen.getByText('Try again'));
  expect(await screen.findByText('keys: Left hand')).toBeVisible();
});
