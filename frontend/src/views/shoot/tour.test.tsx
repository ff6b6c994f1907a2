import { screen } from '@testing-library/react';
import { expect, it, vi } from 'vitest';

import type { Settings } from '../../api/client';
import { commandsFor } from '../../commands/registry';
import { show } from '../../testing/panel';
import { Tour } from './tour';

const settings = { toured: false } as Settings;
const commands = commandsFor([]);

it('shows five stops with the keys of now, and ends for good', async () => {
  const ended = vi.fn<(settings: Settings) => void>();
  const moved = commands.map((command) =>
    command.id === 'pick' ? { ...command, keys: ['X'] } : command,
  );
  const person = show(<Tour settings={settings} commands={moved} onSettings={ended} />);
  await person.click(screen.getByText('Show me'));
  expect(screen.getByText('1 of 5: Decide')).toBeVisible();
  expect(screen.getByText('X')).toBeVisible();
  for (const stop of ['2 of 5: Look', '3 of 5: Be told', '4 of 5: Find', '5 of 5: Finish']) {
    await person.click(screen.getByText('Next'));
    expect(screen.getByText(stop)).toBeVisible();
  }
  expect(screen.queryByText('skip the rest')).toBeNull();
  await person.click(screen.getByText('Done'));
  expect(ended).toHaveBeenCalledExactlyOnceWith({ toured: true });
});

it('can be declined, and skipped half way', async () => {
  const ended = vi.fn<(settings: Settings) => void>();
  const person = show(<Tour settings={settings} commands={commands} onSettings={ended} />);
  await person.click(screen.getByText('no, thanks'));
  expect(ended).toHaveBeenCalledTimes(1);
  await person.click(screen.getByText('Show me'));
  await person.click(screen.getByText('skip the rest'));
  expect(ended).toHaveBeenCalledTimes(2);
});

it('is not there for somebody who has seen it', () => {
  show(<Tour settings={{ ...settings, toured: true }} commands={commands} onSettings={vi.fn()} />);
  expect(screen.queryByLabelText('First steps')).toBeNull();
});
