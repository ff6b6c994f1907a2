import { screen, within } from '@testing-library/react';
import { useState } from 'react';
import { describe, expect, it } from 'vitest';

import type { Settings } from '../../api/client';
import { withKeys } from '../../commands/key-set';
import { commandsFor } from '../../commands/registry';
import { answers, server, show } from '../../testing/panel';
import { KeyEditor } from './key-editor';

type KeySet = Settings['keys'];
const commands = commandsFor([]);
const keysOf = (set: KeySet, id: string) =>
  withKeys(commands, set.keys).find((command) => command.id === id)!.keys;

/** The editor, with the set that it made last. */
function shown(saved: KeySet[] = []) {
  const last: { set: KeySet } = { set: { name: 'My keys', keys: {} } };
  server.use(answers.get('/api/key-sets', ({ response }) => response(200).json(saved)));
  function Held() {
    const [set, setSet] = useState(last.set);
    const change = (next: KeySet) => {
      last.set = next;
      setSet(next);
    };
    return <KeyEditor open onClose={() => {}} commands={commands} set={set} onChange={change} />;
  }
  return { person: show(<Held />), last };
}
const row = (id: string) => within(document.querySelector<HTMLElement>(`[data-command="${id}"]`)!);

describe('the key editor', () => {
  it('gives a free key to a command', async () => {
    const { person, last } = shown();
    await person.click(row('pick').getByText('add a key'));
    expect(row('pick').getByText('press a key …')).toBeVisible();
    await person.keyboard('ü');
    expect(keysOf(last.set, 'pick')).toEqual(['L', 'Ü']);
    expect(screen.getByText('1 changed')).toBeVisible();
    await person.click(row('pick').getByText('reset'));
    expect(screen.getByText('all as they come')).toBeVisible();
  });

  it('says what a taken key does, and swaps', async () => {
    const { person, last } = shown();
    await person.click(row('pick').getByText('add a key'));
    await person.keyboard('j');
    expect(screen.getByRole('alert')).toHaveTextContent('J now does “Reject”.');
    expect(keysOf(last.set, 'pick')).toEqual(['L']);
    await person.click(screen.getByRole('button', { name: /^Swap/ }));
    expect(keysOf(last.set, 'pick')).toEqual(['J']);
    expect(keysOf(last.set, 'reject')).toEqual(['L']);
    expect(screen.queryByRole('alert')).toBeNull();
  });

  it('leaves a taken key, or takes it', async () => {
    const { person, last } = shown();
    await person.click(row('pick').getByText('add a key'));
    await person.keyboard('j');
    await person.click(screen.getByRole('button', { name: 'Leave it' }));
    expect(last.set.keys).toEqual({});
    await person.click(row('pick').getByText('add a key'));
    await person.keyboard('j');
    await person.click(screen.getByRole('button', { name: /^Take it/ }));
    expect(keysOf(last.set, 'pick')).toEqual(['L', 'J']);
    expect(keysOf(last.set, 'reject')).toEqual([]);
  });

  it('finds commands by their key and by their words', async () => {
    const { person } = shown();
    await person.click(screen.getByRole('button', { name: 'Search by a key' }));
    await person.keyboard('j');
    const named = () =>
      [...document.querySelectorAll<HTMLElement>('[data-command]')].map(
        (row) => row.dataset['command'],
      );
    expect(named()).toEqual(['reject', 'review-none', 'number-out']);
    await person.click(screen.getByLabelText('show all again'));
    await person.type(screen.getByLabelText('Search commands'), 'knockout');
    expect(named()).toContain('knockout');
    await person.type(screen.getByLabelText('Search commands'), 'xyz');
    expect(screen.getByText('No command is called that.')).toBeVisible();
  });

  it('keeps sets under a name, uses and forgets them', async () => {
    const mine: KeySet = { name: 'Left hand', keys: { pick: ['X'] } };
    const { person, last } = shown([mine]);
    await person.click(await screen.findByText('Left hand'));
    expect(last.set).toEqual(mine);
    const asked: unknown[] = [];
    server.use(
      answers.put('/api/key-sets', async ({ request, response }) => {
        asked.push(await request.json());
        return response(200).json([mine, { name: 'Both', keys: mine.keys }]);
      }),
      answers.delete('/api/key-sets', ({ response }) => response(200).json([])),
    );
    const name = screen.getByLabelText('Name of the key set');
    await person.clear(name);
    await person.type(name, 'Both');
    await person.click(screen.getByText('Save a copy'));
    expect(await screen.findByText('Both')).toBeVisible();
    expect(asked).toEqual([{ name: 'Both', keys: mine.keys }]);
    await person.click(screen.getByLabelText('Forget the key set Left hand'));
    await expect.poll(() => screen.queryByText('Left hand')).toBeNull();
  });

  it('says in words what the server refuses', async () => {
    const { person } = shown();
    server.use(
      answers.put('/api/key-sets', ({ response }) =>
        response(400).json({ detail: 'A set needs a name.' }),
      ),
    );
    await person.click(screen.getByText('Save a copy'));
    expect(await screen.findByRole('alert')).toHaveTextContent('A set needs a name.');
  });
});
