import { screen, waitFor } from '@testing-library/react';
import { expect, it, vi } from 'vitest';

import type { ListCame } from '../../../api/client';
import { useShoot } from '../../../state/shoot';
import { answers, server, show } from '../../../testing/panel';
import { shoot } from '../../../testing/shoot';
import { Lists } from './lists';

/** What the person gets: the name and the content of a file. */
function saved() {
  const files: { name: string; content: Blob }[] = [];
  let last = new Blob();
  URL.createObjectURL = (content) => {
    last = content as Blob;
    return 'blob:list';
  };
  vi.spyOn(HTMLAnchorElement.prototype, 'click').mockImplementation(function (
    this: HTMLAnchorElement,
  ) {
    files.push({ name: this.download, content: last });
  });
  return files;
}

const came: ListCame = {
  rows: 4,
  same: 1,
  changes: 2,
  frames: [],
  problems: [{ row: 3, why: 'There is no frame QH_0999.' }],
  unknown: ['Remarks'],
};

/** The step, and what was asked for. */
function shown(read: Partial<ListCame> | string = {}) {
  const asked: unknown[] = [];
  server.use(
    answers.get('/api/labels', ({ response }) => response(200).json([])),
    answers.post('/api/shoots/{shoot}/lists', async ({ request, response }) => {
      asked.push(await request.json());
      return response(200).json({ text: 'name,stars\r\n' });
    }),
    answers.post('/api/shoots/{shoot}/lists/read', ({ response }) =>
      typeof read === 'string'
        ? response(400).json({ detail: read })
        : response(200).json({ ...came, ...read }),
    ),
    answers.post('/api/shoots/{shoot}/lists/apply', async ({ request, response }) => {
      asked.push((await request.json()).name);
      return response(200).json({
        undo: 'took over a list', redo: null, sentence: 'took over a list', marks: [], texts: [],
      }); // prettier-ignore
    }),
    answers.post('/api/shoots/{shoot}/find', ({ response }) =>
      response(200).json({ ids: [1, 2] } as never),
    ),
  );
  useShoot.setState({
    frames: [{ id: 1 }, { id: 2 }] as never,
    marks: new Map([[1, { decision: 'pick', stars: 0, label: null }]]),
    selection: [],
    visible: [1, 2],
  });
  return { person: show(<Lists shoot={shoot({})} />), asked };
}

const list = new File(['name,stars\nQH_0001,5\n'], 'back.csv', { type: 'text/csv' });

it('saves a list of the chosen frames, with the chosen parts', async () => {
  const files = saved();
  const { person, asked } = shown();
  await person.selectOptions(screen.getByLabelText('Which frames'), 'all');
  await person.selectOptions(screen.getByLabelText('As'), 'json');
  await person.click(screen.getByLabelText('hints'));
  await person.click(screen.getByRole('button', { name: 'Save the list' }));
  await waitFor(() => expect(files).toHaveLength(1));
  expect(files[0]!.name).toBe('Fair.json');
  expect(files[0]!.content.size).toBe('name,stars\r\n'.length);
  expect(asked).toEqual([{ frames: [1, 2], form: 'json', parts: ['marks', 'texts', 'hints'] }]);
  await person.selectOptions(screen.getByLabelText('Which frames'), 'selected');
  expect(screen.getByRole('button', { name: 'Save the list' })).toBeDisabled();
});

it('says what a list that came back would do, and takes it over or leaves it', async () => {
  const { person, asked } = shown();
  await person.upload(screen.getByLabelText('A list that came back'), list);
  const region = await screen.findByRole('region', { name: 'What the list would do' });
  expect(region).toHaveTextContent('back.csv: 4 rows. 2 frames would change, 1 say so already');
  expect(region).toHaveTextContent('1 row left out. Columns passed over: Remarks.');
  expect(region).toHaveTextContent('Row 3: There is no frame QH_0999.');
  await person.click(screen.getByRole('button', { name: 'Leave it' }));
  expect(screen.queryByRole('region', { name: 'What the list would do' })).toBeNull();
  await person.upload(screen.getByLabelText('A list that came back'), list);
  await person.click(await screen.findByRole('button', { name: 'Take over 2 frames' }));
  await waitFor(() => expect(useShoot.getState().notice?.text).toBe('took over a list'));
  expect(asked).toEqual(['back.csv']);
});

it('says why a file is no list', async () => {
  const { person } = shown('This file is not CSV that can be read.');
  await person.upload(screen.getByLabelText('A list that came back'), list);
  expect(await screen.findByRole('alert')).toHaveTextContent('not CSV');
});
