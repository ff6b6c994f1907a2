import { act, renderHook } from '@testing-library/react';
import { afterEach, beforeEach, expect, test, vi } from 'vitest';

import { useSettled } from './use-settled';

beforeEach(() => void vi.useFakeTimers());
afterEach(() => void vi.useRealTimers());

const pass = (ms: number): void => {
  act(() => {
    vi.advanceTimersByTime(ms);
  });
};

test('a single change is taken at once, a flight only where it ends', () => {
  const { result, rerender } = renderHook(({ value }) => useSettled(value, 90), {
    initialProps: { value: 1 },
  });
  pass(500);
  rerender({ value: 2 });
  pass(1);
  expect(result.current).toBe(2);
  for (let value = 3; value < 20; value++) {
    rerender({ value });
    pass(40);
    expect(result.current).toBe(2);
  }
  pass(90);
  expect(result.current).toBe(19);
});
