import { screen, waitFor } from '@testing-library/react';
import { beforeEach, expect, it, vi } from 'vitest';

import type { Filter, Found, Label } from '../../api/client';
import { NO_FILTER, useShoot } from '../../state/shoot';
import { answers, server, show } from '../../testing/panel';
import { FilterPanel } from './filter-panel';

const labels: Label[] = [
  {
    letter: 'y',
    name: 'Yellow',
    meaning: '',
    shape: 'disc',
    colour: '#ccaa00',
    written_as: 'Yellow',
  },
];
const found: Found = {
  answer: '',
  ids: [1, 2, 3],
  came: [],
  gone: [],
  words: 'all frames',
  shown: 3,
  total: 3,
  decisions: { pick: 1, reject: 2, undecided: 0 },
  stars: [2, 0, 0, 1, 0, 0],
  labels: { y: 1, q: 1, '': 1 },
};

beforeEach(() => useShoot.setState({ shootId: 7, filter: NO_FILTER, found }));

/** The panel on the filter that it changes, and all that it changed it to. */
function shown(saved: { name: string; filter: Filter }[] = []) {
  const changed = vi.fn<(filter: Filter) => void>();
  const asked: string[] = [];
  const read = (text: string) => ({
    text,
    joined: 'all' as const,
    problem: '',
    words: text,
    at: 0,
    until: 0,
    parts: text ? [{ words: `${text}, said`, fact: 'iso', values: [], inverted: false }] : [],
  });
  server.use(
    answers.get('/api/filters/facts', ({ response }) =>
      response(200).json({
        offered: [{ fact: 'iso', offered: 'ISO', ranged: true }],
        facts: ['iso'],
        flags: ['pick'],
      }),
    ),
    answers.get('/api/filters', ({ response }) => response(200).json(saved)),
    answers.put('/api/filters', async ({ request, response }) => {
      saved.push((await request.json()) as (typeof saved)[0]);
      return response(200).json(saved);
    }),
    answers.delete('/api/filters', ({ query, response }) => {
      saved = saved.filter((filter) => filter.name !== query.get('name'));
      return response(200).json(saved);
    }),
    answers.post('/api/filters/written', async ({ request, response }) =>
      response(200).json(read((await request.json()).text)),
    ),
    answers.post('/api/filters/written/edit', async ({ request, response }) => {
      const { edit } = await request.json();
      asked.push(JSON.stringify(edit));
      return response(200).json(read(edit.do === 'remove' ? '' : 'iso:800'));
    }),
    answers.post('/api/shoots/{shoot}/choices/{fact}', ({ response }) =>
      response(200).json([
        { value: 400, high: null, words: 'ISO 400', count: 1 },
        { value: 800, high: null, words: 'ISO 800', count: 2 },
      ]),
    ),
  );
  const change = (filter: Filter) => {
    changed(filter);
    useShoot.setState({ filter });
  };
  const person = show(<FilterPanel labels={labels} typing={false} onChange={change} />);
  return { person, changed, asked };
}

const choice = (name: RegExp) => screen.getByRole('button', { name });

it('says how many frames each choice would leave, and turns it on and off', async () => {
  const { person, changed } = shown();
  expect(choice(/^rejects/)).toHaveTextContent('2');
  await person.click(choice(/^rejects/));
  expect(changed).toHaveBeenLastCalledWith({ ...NO_FILTER, decisions: ['reject'] });
  expect(choice(/^rejects/)).toHaveAttribute('aria-pressed', 'true');
  await person.click(choice(/^picks/));
  expect(changed).toHaveBeenLastCalledWith({ ...NO_FILTER, decisions: ['reject', 'pick'] });
  await person.click(choice(/^rejects/));
  await person.click(choice(/^picks/));
  expect(changed).toHaveBeenLastCalledWith(NO_FILTER);
});

it('takes stars by a rule, and one number of them at a time', async () => {
  const { person, changed } = shown();
  await person.selectOptions(screen.getByLabelText('Stars rule'), 'exactly');
  await person.click(choice(/^exactly ?3★/));
  await person.click(choice(/^exactly ?0★/));
  expect(changed).toHaveBeenLastCalledWith({ ...NO_FILTER, stars_rule: 'exactly', stars: 0 });
  await person.click(choice(/^exactly ?0★/));
  expect(changed).toHaveBeenLastCalledWith({ ...NO_FILTER, stars_rule: 'exactly', stars: null });
});

it('lists labels that frames still have and the set has no more', async () => {
  const { person, changed } = shown();
  expect(choice(/Yellow/)).toBeVisible();
  await person.click(choice(/^no label/));
  expect(changed).toHaveBeenLastCalledWith({ ...NO_FILTER, labels: [''] });
  await person.click(choice(/label q/));
  expect(changed).toHaveBeenLastCalledWith({ ...NO_FILTER, labels: ['', 'q'] });
});

it('adds a condition on a fact, says it in words, and takes it out again', async () => {
  const { person, changed, asked } = shown();
  await person.click(await screen.findByRole('button', { name: /^ISO$/ }));
  await person.click(await screen.findByText('ISO 800'));
  await waitFor(() =>
    expect(changed).toHaveBeenLastCalledWith({ ...NO_FILTER, written: 'iso:800' }),
  );
  expect(asked.at(-1)).toContain('800');
  await person.click(await screen.findByLabelText('Take out iso:800, said'));
  await waitFor(() => expect(changed).toHaveBeenLastCalledWith(NO_FILTER));
});

it('is kept under a name, used and forgotten', async () => {
  const { person, changed } = shown();
  expect(screen.getByText('save this filter')).toBeDisabled();
  await person.click(choice(/^picks/));
  const wanted = { ...NO_FILTER, decisions: ['pick'] };
  await person.click(screen.getByText('save this filter'));
  await person.type(screen.getByLabelText('Name of the filter'), ' Good ones {Enter}');
  await person.click(screen.getByText('show all'));
  expect(changed).toHaveBeenLastCalledWith(NO_FILTER);
  await person.click(await screen.findByText('Good ones'));
  expect(changed).toHaveBeenLastCalledWith(wanted);
  await person.click(screen.getByLabelText('Forget the filter Good ones'));
  await waitFor(() => expect(screen.queryByText('Good ones')).toBeNull());
});
