import { screen, waitFor } from '@testing-library/react';
import { describe, expect, it, vi } from 'vitest';

import type { Label } from '../../api/client';
import { answers, server, show } from '../../testing/panel';
import { LabelEditor } from './label-editor';

const label = (letter: string, name: string, shape: Label['shape'], colour: string): Label => ({
  letter, name, shape, colour, meaning: '', written_as: name,
}); // prettier-ignore
const labels = [label('R', 'Retouch', 'disc', '#00609c'), label('A', 'Album', 'square', '#8a5a00')];

function shown(answer: (body: readonly Label[]) => string = () => '') {
  const asked: (readonly Label[])[] = [];
  const closed = vi.fn<() => void>();
  server.use(
    answers.get('/api/labels/choices', ({ response }) =>
      response(200).json({
        shapes: ['disc', 'square', 'triangle', 'diamond', 'hexagon'],
        colours: { '#00609c': 'blue', '#8a5a00': 'brown', '#7a2e8a': 'violet' },
      }),
    ),
    answers.get('/api/label-sets', ({ response }) =>
      response(200).json([{ name: 'Village paper', labels: [labels[1]!] }]),
    ),
    answers.put('/api/labels', async ({ request, response }) => {
      const body = await request.json();
      asked.push(body);
      const refused = answer(body);
      return refused ? response(400).json({ detail: refused }) : response(200).json(body);
    }),
  );
  return { person: show(<LabelEditor open labels={labels} onClose={closed} />), asked, closed };
}

describe('the label editor', () => {
  it('offers a new label what is free, and keeps it', async () => {
    const { person, asked, closed } = shown();
    await person.click(await screen.findByText('Add a label'));
    await person.clear(screen.getByLabelText('Name of label 3'));
    await person.type(screen.getByLabelText('Name of label 3'), 'Cover');
    await person.click(screen.getByText('Use these labels'));
    await waitFor(() => expect(closed).toHaveBeenCalled());
    const added = asked[0]![2]!;
    expect([added.letter, added.name, added.shape, added.colour]).toEqual([
      'B', 'Cover', 'triangle', '#7a2e8a',
    ]); // prettier-ignore
  });

  it('says what the server refuses, until something is changed', async () => {
    const { person, closed } = shown(() => 'Two labels have the same name.');
    await person.type(await screen.findByLabelText('Name of label 1'), '!');
    await person.click(screen.getByText('Use these labels'));
    expect(await screen.findByRole('alert')).toHaveTextContent('Two labels have the same name.');
    expect(closed).not.toHaveBeenCalled();
    await person.type(screen.getByLabelText('Means of label 1'), 'x');
    expect(screen.queryByRole('alert')).toBeNull();
  });

  it('tells what becomes of frames whose label is taken out', async () => {
    const { person, asked } = shown();
    await person.click(await screen.findByLabelText('Remove Album'));
    expect(screen.getByText(/Frames that have Album keep the letter/)).toBeVisible();
    await person.click(screen.getByText('Use these labels'));
    await waitFor(() => expect(asked).toEqual([[labels[0]]]));
  });

  it('puts labels in another order, and takes a saved set', async () => {
    const { person, asked } = shown();
    expect(await screen.findByLabelText('Move Retouch up')).toBeDisabled();
    await person.click(screen.getByLabelText('Move Album up'));
    expect(screen.getByLabelText('Name of label 1')).toHaveValue('Album');
    await person.click(await screen.findByText('Village paper'));
    await person.click(screen.getByText('Use these labels'));
    await waitFor(() => expect(asked).toEqual([[labels[1]]]));
  });
});
