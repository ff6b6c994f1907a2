import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import { useEffect, useState } from 'react';
import { Link } from 'react-router';

import type { Bringing, Shoot } from '../../api/client';
import { isRunning, useBringings } from '../../parts/bringings';
import { duration, share, whole } from '../../texts/numbers';
import { useShoot } from '../../state/shoot';

const LINE = 'absolute inset-x-0 h-[3px] w-full rounded-none bg-transparent';

/** How far the indexing is: a line along the edge, and its figures where there is room. */
export function Progress({
  shoot,
  brief,
  onStop,
  onGoOn,
}: {
  shoot: Shoot;
  /** something else needs the room */
  brief: boolean;
  onStop: () => void;
  onGoOn: () => void;
}) {
  const { tally, status } = shoot;
  const { frames, shown, done, failed, faces } = tally;
  // Pictures first; faces come behind, and have a progress of their own.
  const behind = done + failed >= frames;
  const through = behind ? faces : done + failed;
  const left = useTimeLeft(through, behind ? done : frames, status.running);
  if (behind && (faces >= done || !(status.running || status.stopped))) return null;
  const still = left === null ? '' : t`, ${duration(left)} left`;
  const words = behind
    ? t`Looking for faces: ${whole(faces)} of ${whole(done)}`
    : t`Indexing: ${whole(frames)} found, ${whole(shown)} shown, ${whole(done)} analysed${failed ? t`, ${whole(failed)} failed` : ''}` +
      still;
  const short = behind
    ? t`faces: ${whole(faces)} of ${whole(done)}`
    : t`${whole(done)} of ${whole(frames)} analysed` + still;
  const part = share(through / Math.max(1, behind ? done : frames));
  // Beside the views there is no room for more at 1280 px.
  const tiny = behind ? t`faces: ${part}` : t`${part} analysed`;
  return (
    <span className="figures flex shrink-0 items-center gap-2 text-quiet" title={words}>
      <progress
        className={`${LINE} bottom-0`}
        max={behind ? done : frames}
        value={behind ? faces : done + failed}
        aria-label={words}
      />
      {!brief && !behind && <span className="max-[1600px]:hidden">{words}</span>}
      <span className={`max-[1440px]:hidden ${behind || brief ? '' : 'min-[1601px]:hidden'}`}>
        {short}
      </span>
      {!brief && <span className="min-[1441px]:hidden">{tiny}</span>}
      <StopOrGoOn status={status} onStop={onStop} onGoOn={onGoOn} />
    </span>
  );
}

function StopOrGoOn({
  status,
  onStop,
  onGoOn,
}: {
  status: Shoot['status'];
  onStop: () => void;
  onGoOn: () => void;
}) {
  if (status.running)
    return (
      <button type="button" className="underline" title={t`Stop the analysis`} onClick={onStop}>
        <Trans>stop</Trans>
      </button>
    );
  return status.stopped ? (
    <button type="button" className="underline" onClick={onGoOn}>
      <Trans>go on</Trans>
    </button>
  ) : null;
}

/** What became of bringings-in is said once in each window; these were. */
const told = new Set<string>();
const NEWS_S = 60;
/** Before so long a pace says little. */
const KNOWN_S = 4;

/** The card that is being brought into this shoot; what became of it is said at the end. */
export function useComing(shootId: number): Bringing | undefined {
  const { data, dataUpdatedAt } = useBringings();
  const here = data?.find((index) => index.shoot_id === shootId);
  const running = !!here && isRunning(here);
  useEffect(() => {
    if (!here?.ended_at || running || dataUpdatedAt / 1000 - here.ended_at > NEWS_S) return;
    const news = `${here.id} ${here.ended_at}`;
    if (told.has(news)) return;
    told.add(news);
    // What is not well stays in the notices until it is.
    if (here.safe) useShoot.getState().say(here.report);
  }, [running, here, dataUpdatedAt]);
  return running ? here : undefined;
}

export function Coming({ bringing }: { bringing: Bringing }) {
  return (
    <Link to="/" className="figures flex shrink-0 items-center text-quiet" title={t`All shoots`}>
      <progress
        className={`${LINE} top-0`}
        max={Math.max(1, bringing.to_copy)}
        value={bringing.copied}
        aria-label={t`Brought in`}
      />
      <Trans>
        {bringing.done + bringing.already_there} of {bringing.files} copied
      </Trans>
    </Link>
  );
}

/** How long it goes on, in seconds, at the pace since it was first seen; null until that is known. */
function useTimeLeft(done: number, total: number, running: boolean): number | null {
  const [begun, setBegun] = useState<{ at: number; done: number; total: number } | null>(null);
  const [left, setLeft] = useState<number | null>(null);
  useEffect(() => {
    const timer = setTimeout(() => {
      const now = performance.now() / 1000;
      if (!running || !begun || begun.total > total || begun.done > done) {
        setBegun(running ? { at: now, done, total } : null);
        setLeft(null);
        return;
      }
      const seconds = now - begun.at;
      const rate = (done - begun.done) / seconds;
      setLeft(seconds > KNOWN_S && rate > 0 ? (total - done) / rate : null);
    });
    return () => clearTimeout(timer);
  }, [done, total, running, begun]);
  return left;
}
