import { describe, expect, it } from 'vitest';

import { standing } from './knockout';

describe('standing', () => {
  it('says the best so far, the next one, and how many comparisons remain', () => {
    const ids = [7, 3, 9, 4];
    expect(standing(ids, [])).toEqual({ best: 7, next: 3, left: 3 });
    expect(standing(ids, [{ stays: 3 }])).toEqual({ best: 3, next: 9, left: 2 });
    expect(standing(ids, [{ stays: 3 }, { stays: 3 }])).toEqual({ best: 3, next: 4, left: 1 });
    expect(standing(ids, [{ stays: 3 }, { stays: 3 }, { stays: 4 }])).toEqual({
      best: 4,
      next: undefined,
      left: 0,
    });
    expect(standing([], [])).toEqual({ best: undefined, next: undefined, left: 0 });
  });
});
