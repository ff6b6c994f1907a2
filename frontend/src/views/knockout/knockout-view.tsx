import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import { useEffect } from 'react';

import { Help } from '../../parts/help';
import { ActLine, BarLine, Choice, StageBar } from '../../parts/on-stage';
import { Act } from '../../parts/key-cap';
import { counted } from '../../texts/numbers';
import { Thumbnail } from '../../parts/picture';
import { ratioOf } from '../../state/frames';
import { beginKnockout, standing, stays, useKnockout, walkBack } from '../../state/knockout';
import { useShoot } from '../../state/shoot';
import { FacesBelow } from '../faces/faces-below';
import type { CloseUp } from '../side/close-up';
import { TileStage } from '../side/stage';
import { usePinned } from '../side/use-pinned';

/** The best so far at the left, the next one at the right; a key says which stays. */
export function KnockoutView({
  commands,
  labels,
  near,
  bare,
  onClose,
  onDone,
}: CloseUp & {
  onDone: () => void;
}) {
  const shootId = useShoot((state) => state.shootId);
  const byId = useShoot((state) => state.byId);
  const { ids, path, losers, on, shootId: own } = useKnockout();
  const known = own === shootId && on && ids.every((id) => byId.has(id));
  useEffect(() => {
    if (!known && !beginKnockout()) onDone();
    // Only when it is opened.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [shootId]);
  const { best, next, left } = standing(ids, path);
  const over = next === undefined;
  const standingNow = best === undefined || !known ? [] : over ? [best] : [best, next];
  usePinned(standingNow);
  if (!known || best === undefined) return <div className="h-full bg-stage" />;
  return (
    <div className="flex h-full flex-col bg-stage">
      {!bare && (
        <StageBar>
          <BarLine>
            <strong>
              {over
                ? t`${byId.get(best)?.name ?? ''} wins of ${ids.length}`
                : t`${counted(left, 'comparison')} left of ${ids.length - 1}`}
            </strong>
            <span className="flex-1" />
            <Choice
              on={losers === 'rejected'}
              onChange={(on) => useKnockout.setState({ losers: on ? 'rejected' : 'undecided' })}
            >
              <Trans>who loses is rejected</Trans>
            </Choice>
            <Help about={t`Knockout`}>
              <p>
                <Trans>
                  The best so far stands at the left, the next one at the right; say which one
                  stays. The last one that stands is picked. Going back takes the mark back that was
                  made for it, and what you marked meanwhile stays.
                </Trans>
              </p>
            </Help>
          </BarLine>
          <ActLine>
            {!over && (
              <>
                <Act of="left-stays" commands={commands} onClick={() => stays('best')}>
                  <Trans>left stays</Trans>
                </Act>
                <Act of="right-stays" commands={commands} onClick={() => stays('next')}>
                  <Trans>right stays</Trans>
                </Act>
              </>
            )}
            {path.length > 0 && (
              <Act of="walk-back" commands={commands} onClick={() => walkBack()}>
                <Trans>one back</Trans>
              </Act>
            )}
            <span className="flex-1" />
            <Act of="back" commands={commands} onClick={onDone}>
              {over ? t`done` : t`leave`}
            </Act>
          </ActLine>
        </StageBar>
      )}
      <div className={`flex min-h-0 flex-1 ${bare ? '' : 'p-2'}`}>
        <TileStage
          ids={standingNow}
          places={over ? [t`Winner`] : [t`Best so far`, t`Next`]}
          near={near}
          labels={labels}
          bare={bare}
          onClose={onClose}
        />
      </div>
      <FacesBelow view="knockout" ids={standingNow} bare={bare} onClose={onClose} />
      {!bare && <Path />}
    </div>
  );
}

/** All frames of the knockout in order: who is out, who stands, who is to come. */
function Path() {
  const { ids, path } = useKnockout();
  const byId = useShoot((state) => state.byId);
  const { best, next } = standing(ids, path);
  const done = new Set(ids.slice(0, path.length + 1));
  return (
    <ol
      aria-label={t`Path`}
      className="flex h-14 shrink-0 items-center gap-1 overflow-x-auto bg-black/20 px-3"
    >
      {ids.map((id) => {
        const frame = byId.get(id);
        if (!frame) return null;
        const state =
          id === best ? t`best so far` : id === next ? t`next` : done.has(id) ? t`out` : t`to come`;
        return (
          <li
            key={id}
            aria-label={`${frame.name}, ${state}`}
            title={`${frame.name}, ${state}`}
            ref={
              id === next
                ? (own) => own?.scrollIntoView({ block: 'nearest', inline: 'nearest' })
                : null
            }
            className={`relative h-10 shrink-0 ${id === best || id === next ? 'outline-2 outline-on-stage' : ''}`}
            style={{ aspectRatio: ratioOf(frame) }}
          >
            <span className={`absolute inset-0 ${state === 'out' ? 'opacity-40' : ''}`}>
              {frame.picture > 0 && <Thumbnail frame={frame} />}
            </span>
            {state === 'out' && (
              <svg
                viewBox="0 0 10 10"
                preserveAspectRatio="none"
                className="absolute inset-0 h-full w-full"
                aria-hidden
              >
                <path
                  d="M0 10L10 0"
                  stroke="#fff"
                  strokeWidth="1.2"
                  vectorEffect="non-scaling-stroke"
                />
              </svg>
            )}
          </li>
        );
      })}
    </ol>
  );
}
