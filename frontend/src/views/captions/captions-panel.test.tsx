import { screen, waitFor } from '@testing-library/react';
import { beforeEach, expect, it } from 'vitest';

import type { TextField, TextsFound } from '../../api/client';
import { useCaptions } from '../../state/captions';
import { useShoot } from '../../state/shoot';
import { answers, server, show } from '../../testing/panel';
import { CaptionsPanel } from './captions-panel';

const fields: TextField[] = [
  { name: 'title', words: 'Title', iptc: 'Title', listed: false },
  { name: 'caption', words: 'Caption', iptc: 'Description', listed: false },
  { name: 'keywords', words: 'Keywords', iptc: 'Keywords', listed: true },
  { name: 'creators', words: 'Creator', iptc: 'Creator', listed: true },
  { name: 'city', words: 'City', iptc: 'City', listed: false },
];
const texts = {
  title: 'Lanterns', caption: '', keywords: ['quay'], creators: ['Ann', 'Ben'], rights: '',
  location: '', city: '', state: '', country: '', instructions: '',
}; // prettier-ignore

beforeEach(() => {
  useCaptions.setState({ open: true });
  useShoot.setState({ shootId: 7, active: 1, selection: [], textsVersion: 0 });
});

/** The panel, and what it asked the server to change. */
function shown(found: Partial<TextsFound> = {}, problem = '') {
  const asked: Record<string, unknown>[] = [];
  server.use(
    answers.get('/api/texts/fields', ({ response }) => response(200).json(fields)),
    answers.get('/api/texts/used', ({ response }) =>
      response(200).json([{ value: 'dusk', frames: 3 }]),
    ),
    answers.get('/api/text-templates', ({ response }) => response(200).json([])),
    answers.get('/api/texts/filled', ({ response }) => response(200).json([])),
    answers.post('/api/shoots/{shoot}/texts', ({ response }) =>
      response(200).json({ texts, several: [], some: {}, ...found }),
    ),
    answers.post('/api/shoots/{shoot}/texts/edit', async ({ request, response }) => {
      const { put, add, remove, frames } = await request.json();
      asked.push({ put, add, remove, frames });
      return response(400).json({ detail: problem });
    }),
  );
  return { person: show(<CaptionsPanel />), asked };
}

const nothing = { put: {}, add: [], remove: [], frames: [1] };

it('keeps what was typed when the field is left, and once only', async () => {
  const { person, asked } = shown();
  const title = await screen.findByLabelText('Title');
  expect(title).toHaveValue('Lanterns');
  await person.type(title, ' at dusk{Enter}');
  await person.tab();
  await waitFor(() => expect(asked).toEqual([{ ...nothing, put: { title: 'Lanterns at dusk' } }]));
});

it('gives a field back as it was with Escape', async () => {
  const { person, asked } = shown();
  const title = await screen.findByLabelText('Title');
  await person.type(title, ' at noon{Escape}');
  await waitFor(() => expect(title).not.toHaveFocus());
  expect(title).toHaveValue('Lanterns');
  expect(asked).toEqual([]);
});

it('takes several names at semicolons', async () => {
  const { person, asked } = shown();
  const creator = await screen.findByLabelText('Creator');
  expect(creator).toHaveValue('Ann; Ben');
  await person.clear(creator);
  await person.type(creator, 'Ann;; Cleo ;{Enter}');
  await waitFor(() => expect(asked).toEqual([{ ...nothing, put: { creators: ['Ann', 'Cleo'] } }]));
});

it('says where frames differ, and leaves that as it is until something is typed', async () => {
  useShoot.setState({ selection: [1, 2] });
  const { person, asked } = shown({ several: ['caption', 'city'], some: { mist: 1 } });
  const caption = await screen.findByLabelText('Caption');
  expect(caption).toHaveAttribute('placeholder', 'they differ; what you type is for all 2');
  await person.click(caption);
  await person.tab();
  expect(asked).toEqual([]);
  await person.click(screen.getByRole('button', { name: /^mist/ }));
  await waitFor(() => expect(asked).toEqual([{ ...nothing, frames: [1, 2], add: ['mist'] }]));
});

it('completes keywords, gives several at once, and takes them out', async () => {
  const { person, asked } = shown();
  const field = await screen.findByLabelText('Add keywords');
  await person.type(field, 'du');
  await person.keyboard('{Tab}');
  await person.type(field, 'fog; sea{Enter}');
  await person.click(screen.getByLabelText('Take out quay'));
  await waitFor(() =>
    expect(asked).toEqual([
      { ...nothing, add: ['dusk'] },
      { ...nothing, add: ['fog', 'sea'] },
      { ...nothing, remove: ['quay'] },
    ]),
  );
});

it('says what the server refuses', async () => {
  const { person } = shown({}, 'That is longer than 2,000 signs.');
  await person.type(await screen.findByLabelText('Title'), '!{Enter}');
  expect(await screen.findByRole('alert')).toHaveTextContent('That is longer than 2,000 signs.');
});
