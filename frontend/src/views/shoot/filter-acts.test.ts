import { expect, it } from 'vitest';

import { NO_FILTER } from '../../state/shoot';
import { narrowed } from './filter-acts';

it('adds a condition to what is filtered for, and takes it off again', () => {
  const picks = { ...NO_FILTER, decisions: ['pick' as const] };
  const good = narrowed(picks, { written: 'hint none' });
  expect(good).toEqual({ ...picks, written: 'hint none' });
  expect(narrowed(good, { written: 'hint none' })).toEqual(picks);
  const typed = narrowed({ ...picks, written: 'iso 800' }, { written: 'hint none' });
  expect(typed.written).toBe('iso 800 hint none');
  expect(narrowed(typed, { written: 'hint none' }).written).toBe('iso 800');

  const three = narrowed(picks, { stars: 3 });
  expect([three.stars, three.stars_rule, three.decisions]).toEqual([3, 'at_least', ['pick']]);
  expect(narrowed(three, { stars: 4 }).stars).toBe(4);
  expect(narrowed(three, { stars: 3 }).stars).toBeNull();

  const web = narrowed(three, { label: 'W' });
  expect(narrowed(web, { label: 'A' }).labels).toEqual(['W', 'A']);
  expect(narrowed(web, { label: 'W' }).labels).toEqual([]);
});
