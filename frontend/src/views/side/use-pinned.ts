import { useEffect, useRef } from 'react';

import { keepPlace } from '../../state/next-frame';
import { useShoot } from '../../state/shoot';

/**
 * The active frame is one of these, whatever the filter says; where it left, the next one takes its
 * place.
 */
export function usePinned(ids: readonly number[]): void {
  const key = ids.join(' ');
  const active = useShoot((state) => state.active);
  const before = useRef(ids);
  useEffect(() => {
    const now = key ? key.split(' ').map(Number) : [];
    useShoot.getState().hold(now);
    const { active: at, go } = useShoot.getState();
    if (now.length && (at === null || !now.includes(at))) go(keepPlace(at, before.current, now));
    before.current = now;
  }, [key, active]);
  useEffect(() => () => useShoot.getState().hold([]), []);
}
