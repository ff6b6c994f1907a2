import { useEffect, useRef, useState } from 'react';

/**
 * A value as it is when it changes now and then; while it changes quickly, the one at which it
 * comes to rest for `ms`. Flying past frames asks for nothing.
 */
export function useSettled<T>(value: T, ms: number): T {
  const [settled, setSettled] = useState(value);
  const changed = useRef(-Infinity);
  useEffect(() => {
    const now = performance.now();
    const wait = now - changed.current > 2 * ms ? 0 : ms;
    changed.current = now;
    const timer = setTimeout(() => setSettled(value), wait);
    return () => clearTimeout(timer);
  }, [value, ms]);
  return settled;
}
