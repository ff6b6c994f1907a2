import { describe, expect, it } from 'vitest';

import { pages, remaining } from './compare';
import type { Mark } from './frames';

const FORTY = Array.from({ length: 40 }, (_, n) => n + 1);

describe('pages', () => {
  it('is one page up to twelve frames, and pages of nearly one size beyond', () => {
    expect(pages(FORTY.slice(0, 12), null)).toHaveLength(1);
    const sizes = pages(FORTY, null).map((page) => page.length);
    expect(sizes).toEqual([10, 10, 10, 10]);
    expect(pages(FORTY.slice(0, 13), null).map((page) => page.length)).toEqual([6, 7]);
    const many = pages(
      Array.from({ length: 133 }, (_, n) => n),
      null,
    );
    expect(Math.min(...many.map((page) => page.length))).toBe(11);
    expect(pages(FORTY, null).flat()).toEqual(FORTY);
    expect(pages([], null)).toEqual([[]]);
  });

  it('carries a frame along to every page, and shows every other one once', () => {
    const all = pages(FORTY, 7);
    expect(all.every((page) => page[0] === 7 && page.length <= 12)).toBe(true);
    expect(all.flatMap((page) => page.slice(1))).toEqual(FORTY.filter((id) => id !== 7));
    expect(pages([1, 2, 3], 2)).toEqual([[1, 2, 3]]);
    expect(pages(FORTY, 99)[0]![0]).toBe(1);
  });
});

describe('remaining', () => {
  const mark = (decision: Mark['decision']): Mark => ({ decision, stars: 0, label: null });
  const marks = new Map([[2, mark('reject')]]);

  it('leaves out what was taken out, and rejects where they leave', () => {
    const set = { ids: [1, 2, 3], out: [3], rejectsLeave: true };
    expect(remaining(set, marks)).toEqual([1]);
    expect(remaining({ ...set, rejectsLeave: false }, marks)).toEqual([1, 2]);
  });
});
