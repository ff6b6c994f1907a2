import { screen, waitFor } from '@testing-library/react';
import { MemoryRouter } from 'react-router';
import { expect, it } from 'vitest';

import { answers, server, show } from '../../testing/panel';
import { shoot } from '../../testing/shoot';
import { ShootList } from './shoot-list';

const DAY = 86_400;
const folder = (path: string) => [
  { id: 1, path, notice: '', beside: { companions: {}, others: {} } },
];
const SHOOTS = [
  shoot({ id: 1, name: 'Quay', opened_at: 9, first_at: 0, last_at: 5, folders: folder('/p/q') }),
  shoot({ id: 2, name: 'Fair 10', opened_at: 8, first_at: 3 * DAY, last_at: 4 * DAY }),
  shoot({ id: 3, name: 'Fair 9', opened_at: 7, folders: folder('/p/lantern fair') }),
  shoot({ id: 4, name: 'Harbour', opened_at: 6, archived: true }),
];
const names = () =>
  screen
    .getAllByRole('article')
    .map((card) => card.querySelector('a[href]:not([tabindex])')!.textContent);

it('finds shoots by words, in an order, and those of the archive on wish', async () => {
  const person = show(
    <MemoryRouter>
      <ShootList shoots={SHOOTS} />
    </MemoryRouter>,
  );
  expect(names()).toEqual(['Quay', 'Fair 10', 'Fair 9']);
  await person.selectOptions(screen.getByRole('combobox'), 'by name');
  expect(names()).toEqual(['Fair 9', 'Fair 10', 'Quay']);
  await person.selectOptions(screen.getByRole('combobox'), 'last taken');
  expect(names()).toEqual(['Fair 10', 'Quay', 'Fair 9']);
  await person.click(screen.getByRole('checkbox', { name: 'with the archive (1)' }));
  expect(names()).toContain('Harbour');
  await person.click(screen.getByRole('checkbox', { name: 'with the archive (1)' }));
  const search = screen.getByRole('searchbox');
  await person.type(search, 'lantern');
  expect(names()).toEqual(['Fair 9']);
  await person.clear(search);
  await person.type(search, '1970-01');
  expect(names()).toEqual(['Fair 10', 'Quay']);
  await person.clear(search);
  // Who looks for a shoot by name has not forgotten it.
  await person.type(search, 'harb');
  expect(names()).toEqual(['Harbour']);
  await person.type(search, 'x');
  expect(screen.getByRole('status').textContent).toContain('None of 4 shoots has “harbx”');
});

it('puts a shoot into the archive', async () => {
  const asked: unknown[] = [];
  server.use(
    answers.patch('/api/shoots/{shoot}', async ({ params, request, response }) => {
      asked.push([params.shoot, await request.json()]);
      return response(200).json(shoot({}));
    }),
  );
  const person = show(
    <MemoryRouter>
      <ShootList shoots={SHOOTS.slice(0, 1)} />
    </MemoryRouter>,
  );
  await person.click(screen.getByRole('button', { name: 'to the archive' }));
  await waitFor(() => expect(asked).toEqual([['1', { archived: true }]]));
});
