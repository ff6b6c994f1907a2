import { screen } from '@testing-library/react';
import { expect, it } from 'vitest';

import type { FilesPlan, FilesStatus, PlannedFiles } from '../../../api/client';
import { START } from '../../../state/settings';
import { answers, server, show } from '../../../testing/panel';
import { shoot } from '../../../testing/shoot';
import { WriteMarks } from './write-marks';

const said = (stars: number) => ({
  mark: { decision: 'undecided' as const, stars, label: null },
  texts: {
    title: '', caption: '', keywords: [], creators: [], rights: '', location: '', city: '', state: '',
    country: '', instructions: '',
  },
}); // prettier-ignore
const conflict: PlannedFiles = {
  frame: 3,
  name: 'QH_0003',
  outcome: 'conflict',
  here: said(4),
  in_file: said(2),
  took: [],
  conflicts: ['stars'],
  writes: [],
  label_text: '',
  notice: '',
};
const plan: FilesPlan = {
  plan: 'as seen',
  unchecked: 0,
  takes_away: 0,
  counts: { new: 2, change: 1 },
  embeds: 0,
  frames: [],
  unknown_labels: {},
};
const idle: FilesStatus = {
  running: false,
  by_itself: false,
  stopped: false,
  done: 0,
  total: 0,
  notice: '',
  result: null,
  unwritten: 0,
  changed_outside: [],
};

/** The step, and what was asked for; ``after``: how it stands then. */
function shown(planned: Partial<FilesPlan>, after: Partial<FilesStatus> = {}) {
  const asked: unknown[] = [];
  let status = idle;
  server.use(
    answers.get('/api/settings', ({ response }) => response(200).json(START)),
    answers.get('/api/labels', ({ response }) => response(200).json([])),
    answers.get('/api/profiles', ({ response }) => response(200).json([])),
    answers.get('/api/label-texts', ({ response }) => response(200).json({})),
    answers.get('/api/shoots/{shoot}/files', ({ response }) => response(200).json(status)),
    answers.get('/api/shoots/{shoot}/files/plan', ({ response }) =>
      response(200).json({ ...plan, ...planned }),
    ),
    answers.post('/api/shoots/{shoot}/files', async ({ request, response }) => {
      asked.push(await request.json());
      status = { ...idle, ...after };
      return response(202).json(status);
    }),
  );
  return { person: show(<WriteMarks shoot={shoot({})} />), asked };
}

it('says what would be written, writes what was seen, and says what came of it', async () => {
  const { person, asked } = shown(
    {},
    {
      result: { written: 2, same: 0, taken: 0, problems: [{ frame: 1, notice: 'It is locked.' }] },
    },
  );
  expect(await screen.findByText('with a new file beside the picture')).toBeVisible();
  await person.click(screen.getByRole('button', { name: 'Write 3 frames' }));
  const result = await screen.findByTestId('written');
  expect(result).toHaveTextContent('2 files written, 0 frames already so, 1 frame left alone.');
  expect(result).toHaveTextContent('It is locked.');
  expect(asked).toEqual([{ plan: 'as seen', kinds: {}, single: [] }]);
});

it('writes nothing of a conflict before somebody decides', async () => {
  const { person, asked } = shown({ counts: { conflict: 1 }, frames: [conflict] });
  expect(await screen.findByRole('region', { name: 'Conflicts' })).toBeVisible();
  expect(screen.getByRole('button', { name: 'Write 0 frames' })).toBeDisabled();
  await person.click(screen.getByRole('button', { name: 'every stars: as in the file' }));
  await person.click(screen.getByRole('button', { name: 'Write 1 frame' }));
  await screen.findByRole('button', { name: 'Write 0 frames' });
  expect(asked).toEqual([{ plan: 'as seen', kinds: { stars: 'file' }, single: [] }]);
});

it('says why writing ended before its end, and warns of what files take away', async () => {
  const { person } = shown(
    { takes_away: 2 },
    { notice: 'The disk that Winnow’s data is on is full.' },
  );
  expect(await screen.findByText(/In 2 frames, files take away/)).toBeVisible();
  await person.click(screen.getByRole('button', { name: 'Write 3 frames' }));
  expect(await screen.findByText('The disk that Winnow’s data is on is full.')).toBeVisible();
});
