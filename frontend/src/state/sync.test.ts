import { expect, it } from 'vitest';

import { turns } from './sync';

it('takes no answer that a later one has overtaken', () => {
  const ask = turns();
  const [first, second, third] = [ask(), ask(), ask()];
  expect(second()).toBe(true);
  expect(first()).toBe(false);
  expect(third()).toBe(true);
  expect(second()).toBe(false);
});
