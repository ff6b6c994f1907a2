import { screen, waitFor } from '@testing-library/react';
import { MemoryRouter, Route, Routes } from 'react-router';
import { expect, it } from 'vitest';

import { answers, server, show } from '../../testing/panel';
import { shoot } from '../../testing/shoot';
import { FolderChooser } from '../../parts/folder-chooser';
import { MovedFolder } from '../../parts/moved-folder';
import { OpenFolder } from './open-folder';

const moved = {
  shoot: 4,
  name: 'Fair',
  folder: 9,
  was: '/media/one/Fair',
  place: '/media/two/Fair',
  found: 5,
  frames: 5,
};

const inside = { pictures: 0, folders: false, shoot: null };
const HOME = {
  path: '/home/ada',
  parent: '/home',
  pictures: 0,
  wide: true,
  more: false,
  folders: [
    { ...inside, name: 'fair', path: '/home/ada/fair', pictures: 12 },
    { ...inside, name: 'quay', path: '/home/ada/quay', shoot: 'Quay' },
  ],
};
/** A computer with two folders in the person's own. */
const FOLDERS = [
  answers.get('/api/folders', ({ response }) => response(200).json({ folders: [], exists: true })),
  answers.get('/api/folders/places', ({ response }) =>
    response(200).json({ home: '/home/ada', pictures: null, recent: [], disks: [] }),
  ),
  answers.get('/api/folders/within', ({ query, response }) => {
    const found = HOME.folders.find(({ path }) => path === query.get('path'));
    return response(200).json(
      found ? { ...HOME, ...found, parent: '/home/ada', wide: false, folders: [] } : HOME,
    );
  }),
];

/** The form, and what it asked of the server. */
function shown(at = '/') {
  const asked: unknown[] = [];
  server.use(
    answers.get('/api/folders', ({ response }) =>
      response(200).json({ folders: [], exists: true }),
    ),
    answers.post('/api/shoots', async ({ request, response }) => {
      const body = await request.json();
      asked.push(body);
      return body.as_new
        ? response(201).json(shoot({ id: 8 }))
        : response(409).json({ detail: '“Fair” seems to have moved.', moved });
    }),
    answers.post(
      '/api/shoots/{shoot}/folders/{folder}/place',
      async ({ params, request, response }) => {
        asked.push([params.shoot, params.folder, (await request.json()).place]);
        return response(200).json(shoot({ id: 4 }));
      },
    ),
  );
  const person = show(
    <MemoryRouter initialEntries={[at]}>
      <Routes>
        <Route path="/" element={<OpenFolder />} />
        <Route path="/shoots/:id" element={<p>a shoot is open</p>} />
      </Routes>
    </MemoryRouter>,
  );
  return { person, asked };
}

it('points a shoot that moved to the folder that is opened', async () => {
  const { person, asked } = shown();
  await person.type(screen.getByRole('combobox', { name: 'Folder' }), '/media/two/Fair{Enter}');
  await waitFor(() =>
    expect(screen.getByRole('alert').textContent).toContain('seems to have moved'),
  );
  await person.click(screen.getByRole('button', { name: /Open “Fair” here/ }));
  await screen.findByText('a shoot is open');
  expect(asked).toEqual([
    { folders: ['/media/two/Fair'], as_new: false, whole: false },
    ['4', '9', '/media/two/Fair'],
  ]);
});

it('opens it as a new shoot where that is wanted, and asks by itself what the command line found', async () => {
  const { person, asked } = shown('/?open=%2Fmedia%2Ftwo%2FFair');
  await person.click(await screen.findByRole('button', { name: 'Open it as a new shoot' }));
  await screen.findByText('a shoot is open');
  expect(asked.at(-1)).toEqual({ folders: ['/media/two/Fair'], as_new: true, whole: false });
});

it('asks before everything of a person becomes one shoot, and offers the folders in it', async () => {
  const asked: unknown[] = [];
  server.use(
    ...FOLDERS,
    answers.post('/api/shoots', async ({ request, response }) => {
      const body = await request.json();
      asked.push(body.folders, body.whole);
      return body.whole || body.folders[0] !== '~/'
        ? response(201).json(shoot({ id: 8 }))
        : response(409).json({ detail: '“/home/ada” holds more than a shoot.', wide: '/home/ada' });
    }),
  );
  const person = show(
    <MemoryRouter>
      <Routes>
        <Route path="/" element={<OpenFolder />} />
        <Route path="/shoots/:id" element={<p>a shoot is open</p>} />
      </Routes>
    </MemoryRouter>,
  );
  const field = screen.getByRole('combobox', { name: 'Folder' });
  await person.type(field, '~/{Enter}');
  await person.click(await screen.findByRole('button', { name: 'Choose the shoot’s folder …' }));
  await person.click(await screen.findByRole('button', { name: /^fair/ }));
  await screen.findByText('12 pictures directly in “fair”');
  await person.click(screen.getByRole('button', { name: 'Use this folder' }));
  expect((field as HTMLInputElement).value).toBe('/home/ada/fair');
  await person.click(screen.getByRole('button', { name: 'Open' }));
  await screen.findByText('a shoot is open');
  expect(asked).toEqual([['~/'], false, ['/home/ada/fair'], false]);
});

it('walks among folders by keys', async () => {
  server.use(...FOLDERS);
  const chosen: string[] = [];
  const person = show(
    <FolderChooser at="" onClose={() => undefined} onChoose={(folder) => chosen.push(folder)} />,
  );
  const fair = await screen.findByRole('button', { name: /^fair/ });
  await waitFor(() => expect(document.activeElement).toBe(fair));
  await person.keyboard('q');
  expect(document.activeElement).toBe(screen.getByRole('button', { name: /^quay/ }));
  await person.keyboard('{ArrowUp}{ArrowRight}');
  await screen.findByText('No folder is in this one.');
  await person.keyboard('{Backspace}');
  await screen.findByRole('button', { name: /^quay/ });
  await person.keyboard('{ArrowDown}{Enter}');
  await screen.findByText('no picture directly in “quay”');
  await person.keyboard('{Control>}{Enter}{/Control}');
  expect(chosen).toEqual(['/home/ada/quay']);
});

it('takes the place of a shoot by hand, and says why one can’t be it', async () => {
  const gone = shoot({
    id: 4,
    name: 'Fair',
    folders: [
      {
        id: 9,
        path: '/media/one/Fair',
        notice: 'It is gone.',
        beside: { companions: {}, others: {} },
      },
    ],
  });
  const asked: string[] = [];
  server.use(
    answers.get('/api/folders', ({ response }) =>
      response(200).json({ folders: [], exists: true }),
    ),
    answers.post('/api/shoots/{shoot}/folders/{folder}/place', async ({ request, response }) => {
      const { place } = await request.json();
      asked.push(place);
      return place === '/wrong'
        ? response(400).json({ detail: 'None of the frames of “Fair” lies in “/wrong”.' })
        : response(200).json(gone);
    }),
  );
  const person = show(<MovedFolder shoot={gone} />);
  await person.click(screen.getByRole('button', { name: 'It is elsewhere now …' }));
  const field = screen.getByRole('combobox', { name: 'Folder' });
  await person.type(field, '/wrong{Enter}');
  expect((await screen.findByRole('alert')).textContent).toContain('None of the frames');
  await person.clear(field);
  await person.type(field, '/media/two/Fair{Enter}');
  await waitFor(() => expect(screen.queryByRole('dialog')).toBeNull());
  expect(asked).toEqual(['/wrong', '/media/two/Fair']);
});

it('asks for no place where every folder is where it was', () => {
  show(<MovedFolder shoot={shoot({})} />);
  expect(screen.queryByRole('button')).toBeNull();
});
