import { screen, waitFor } from '@testing-library/react';
import { useState } from 'react';
import { expect, it, vi } from 'vitest';

import type { Filter } from '../../api/client';
import { answers, server, show } from '../../testing/panel';
import { WrittenFilter } from './written-filter';

const all = { written: '' } as Filter;

/** The field, and what it asked to be shown. */
function shown() {
  const found = vi.fn<(written: string) => void>();
  server.use(
    answers.get('/api/filters/facts', ({ response }) =>
      response(200).json({ offered: [], facts: ['iso'], flags: ['pick'] }),
    ),
    answers.post('/api/filters/written', async ({ request, response }) => {
      const { text } = await request.json();
      const wrong = text.startsWith('isoo');
      return response(200).json({
        text,
        joined: 'all',
        problem: wrong ? 'There is no “isoo”. Did you mean “iso”?' : '',
        words: wrong ? '' : `words for ${text}`,
        at: 0,
        until: wrong ? 4 : 0,
        parts: [],
      });
    }),
  );
  function Held() {
    const [filter, setFilter] = useState(all);
    const change = (next: Filter) => {
      found(next.written);
      setFilter(next);
    };
    return <WrittenFilter filter={filter} focused onChange={change} />;
  }
  return { person: show(<Held />), found };
}

it('is read back in words, and used once it can be read', async () => {
  const { person, found } = shown();
  const field = screen.getByLabelText('Written filter');
  expect(field).toHaveFocus();
  await person.type(field, 'iso>800');
  await waitFor(() => expect(screen.getByRole('status')).toHaveTextContent('words for iso>800'));
  await waitFor(() => expect(found).toHaveBeenLastCalledWith('iso>800'));
});

it('marks a mistake where it is, and changes nothing', async () => {
  const { person, found } = shown();
  const field = screen.getByLabelText('Written filter');
  await person.click(field);
  await person.paste('isoo>800');
  await waitFor(() => expect(screen.getByRole('status')).toHaveTextContent('Did you mean “iso”?'));
  expect(document.querySelector('mark')).toHaveTextContent('isoo');
  expect(field).toBeInvalid();
  expect(found).not.toHaveBeenCalled();
  await person.keyboard('{Enter}');
  expect(field).not.toHaveFocus();
});
