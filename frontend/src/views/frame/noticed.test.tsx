import { screen } from '@testing-library/react';
import { expect, it } from 'vitest';

import type { FrameHint } from '../../api/client';
import { answers, server, show } from '../../testing/panel';
import { Noticed } from './noticed';

const hint = (kind: FrameHint['kind'], more: Partial<FrameHint>): FrameHint => ({
  kind,
  title: kind,
  words: '',
  figure: 1,
  threshold: 30,
  unit: ' %',
  decimals: 0,
  below: false,
  fault: true,
  named: true,
  ...more,
});

function shown(verdict: string, hints: FrameHint[]) {
  server.use(
    answers.get('/api/frames/{frame}/hints', ({ response }) =>
      response(200).json({ verdict, best: true, usable: true, hints }),
    ),
  );
  show(<Noticed id={4} />);
}

it('says the verdict once, and the figures of what was noticed besides', async () => {
  const verdict = 'best of 4: still';
  shown(verdict, [
    hint('best', { words: verdict, unit: '' }),
    hint('soft', { words: '0.4 px softer', figure: 45 }),
    hint('dark', { words: 'not named', named: false }),
  ]);
  const said = await screen.findByRole('region', { name: 'Noticed' });
  await screen.findByText(/0\.4 px softer/);
  expect(said.textContent.match(/best of 4/g)).toHaveLength(1);
  expect(said).toHaveTextContent('soft: 0.4 px softer (45 %, needs 30 %)');
  expect(said).not.toHaveTextContent('not named');
});

it('says of a rank no figure, as its words have it', async () => {
  shown('', [hint('alone', { words: 'the most similar frame is 40 of 100 away', unit: '' })]);
  expect(await screen.findByText(/40 of 100 away/)).not.toHaveTextContent('needs');
});
