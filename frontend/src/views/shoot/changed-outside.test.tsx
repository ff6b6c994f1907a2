import { act, screen } from '@testing-library/react';
import { MemoryRouter, Route, Routes } from 'react-router';
import { expect, it } from 'vitest';

import type { FilesStatus, HintKind, Shoot } from '../../api/client';
import { answers, server, show } from '../../testing/panel';
import { useHints } from '../../state/hints';
import { shoot } from '../../testing/shoot';
import { AnotherPicture, NotWritten } from './changed-outside';

const status: FilesStatus = {
  running: false,
  by_itself: true,
  stopped: false,
  done: 2,
  total: 2,
  notice: '',
  result: { written: 1, same: 0, taken: 0, problems: [] },
  unwritten: 0,
  changed_outside: [],
};

function shown(now: Partial<FilesStatus>, inConflict = 0) {
  server.use(
    answers.get('/api/shoots/{shoot}/files', ({ response }) =>
      response(200).json({ ...status, ...now }),
    ),
  );
  show(<NotWritten shoot={{ id: 7, tally: { in_conflict: inConflict } } as Shoot} />);
}

const problem = { frame: 1, notice: 'QH_0001.xmp: the disk can only be read.' } as never;

it('says of what was written by itself why it was not', async () => {
  shown({ result: { ...status.result!, problems: [problem] } });
  expect(await screen.findByRole('status')).toHaveTextContent(
    'The marks of 1 frame could not be written to files. They are kept here. QH_0001.xmp: the disk',
  );
});

it('says why all of it ended', async () => {
  shown({ result: null, notice: 'The disk that Winnow’s data is on is full.' });
  expect(await screen.findByRole('status')).toHaveTextContent('They are kept here. The disk that');
});

it('says of files with another picture under a marked name that their marks are asked about', async () => {
  const replaced = { name: 'replaced', named: [3, 4] } as unknown as HintKind;
  useHints.setState({ kinds: [replaced] });
  const person = show(
    <MemoryRouter>
      <AnotherPicture shoot={shoot({ id: 7 })} />
      <Routes>
        <Route path="/shoots/7/hints" element={<p>the hints are shown</p>} />
        <Route path="*" element={null} />
      </Routes>
    </MemoryRouter>,
  );
  expect(screen.getByRole('status')).toHaveTextContent('2 frames got another picture');
  await person.click(screen.getByRole('button', { name: 'look at them' }));
  await screen.findByText('the hints are shown');
  act(() => useHints.setState({ kinds: [{ ...replaced, named: [] }] }));
  expect(screen.queryByRole('status')).toBeNull();
});
