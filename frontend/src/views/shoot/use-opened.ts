import { useQueryClient } from '@tanstack/react-query';
import { useEffect, useRef, useState } from 'react';

import { api, ask, inWords, type Shoot } from '../../api/client';
import { freshen } from '../../state/freshen';
import { loadHintsSoon } from '../../state/hints';
import { useGuest } from '../../state/sharing';
import { NO_FILTER, useShoot } from '../../state/shoot';
import { listen, reload } from '../../state/sync';

const placeKey = (shootId: number) => `winnow.place.${shootId}`;

/** Loads a shoot, listens to it, and remembers the place in it. */
export function useOpened(shootId: number, shoot: Shoot | undefined, onProgress: () => void) {
  const client = useQueryClient();
  const [lost, setLost] = useState(false);
  const isGuest = !!useGuest();
  const ready = useShoot((state) => state.shootId === shootId && state.loaded && !!state.found);
  const progress = useRef(onProgress);
  useEffect(() => {
    progress.current = onProgress;
  });
  const known = !!shoot;
  const filter = useRef(NO_FILTER);
  useEffect(() => {
    if (shoot) filter.current = { ...NO_FILTER, ...shoot.filter };
  }, [shoot]);

  useEffect(() => {
    if (!known) return;
    const place = Number(localStorage.getItem(placeKey(shootId))) || null;
    const again = useShoot.getState().shootId === shootId;
    useShoot.getState().open(shootId, filter.current, place);
    const failed = (error: unknown) => useShoot.getState().say(inWords(error), true);
    // Whether something changed on disk is the owner's to look for.
    if (!isGuest)
      ask(
        api.POST('/api/shoots/{shoot}/open', {
          params: { path: { shoot: shootId }, query: { again } },
        }),
      ).catch(failed);
    ask(api.GET('/api/shoots/{shoot}/history', { params: { path: { shoot: shootId } } }))
      .then((history) => useShoot.setState(history))
      .catch(failed);
    reload().catch(failed);
    loadHintsSoon();
    return listen(shootId, {
      progress: () => progress.current(),
      hints: loadHintsSoon,
      delivery: () => freshen(client, ['deliveries', shootId]),
      aside: () => freshen(client, ['aside', shootId]),
      renaming: () => freshen(client, ['renamings', shootId]),
      proof: () => freshen(client, ['proofs', shootId]),
      programs: () => freshen(client, ['runs', shootId]),
      files: () => freshen(client, ['files', shootId]),
      bringing: () => freshen(client, ['bringings']),
      guests: () => freshen(client, ['guests', shootId]),
      people: () => freshen(client, ['people', shootId]),
      lost: setLost,
    });
  }, [shootId, known, isGuest, client]);

  useEffect(() => {
    let timer: ReturnType<typeof setTimeout> | undefined;
    const keep = () => {
      timer = undefined;
      const { active, moved, shootId: now } = useShoot.getState();
      if (active !== null && moved && now === shootId)
        localStorage.setItem(placeKey(shootId), String(active));
    };
    // Nothing is drawn anew for this; and not for every frame that is flown past.
    const forget = useShoot.subscribe((now, before) => {
      if (now.active === before.active) return;
      clearTimeout(timer);
      timer = setTimeout(keep, 200);
    });
    return () => {
      forget();
      clearTimeout(timer);
      if (timer !== undefined) keep();
    };
  }, [shootId]);
  return { ready, lost };
}
