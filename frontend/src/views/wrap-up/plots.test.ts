import { expect, test } from 'vitest';

import { funnelHeight, share } from './plots';

test('shares are said so that nothing is rounded away', () => {
  expect(share(0, 240)).toBe('0 %');
  expect(share(1, 240)).toBe('under 1 %');
  expect(share(60, 240)).toBe('25 %');
});

test('every step of the funnel has its row', () => {
  const bars = [1, 2, 3].map((frames) => ({ words: '', frames }));
  expect(funnelHeight(bars) - funnelHeight(bars.slice(1))).toBe(26);
});
