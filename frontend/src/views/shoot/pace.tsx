import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useMemo } from 'react';

import { api, ask, inWords, type Filter, type Shoot } from '../../api/client';
import { Panel } from '../../parts/dialog';
import { counted, whole } from '../../texts/numbers';
import { NO_FILTER, useShoot } from '../../state/shoot';
import { againstTarget, duration, tallyOf } from '../../state/tally';

/** Decided of all, kept against the target, groups without a pick, the pace and the time left. */
export function PacePanel({
  shoot,
  open,
  onClose,
  onFilter,
  onNumber,
}: {
  shoot: Shoot;
  open: boolean;
  onClose: () => void;
  onFilter: (filter: Filter) => void;
  /** the picks are to be trimmed or filled to the number */
  onNumber: () => void;
}) {
  return (
    <Panel open={open} onClose={onClose} title={t`How far the cull is`}>
      <Pace shoot={shoot} onClose={onClose} onFilter={onFilter} onNumber={onNumber} />
    </Panel>
  );
}

function Pace({
  shoot,
  onClose,
  onFilter,
  onNumber,
}: {
  shoot: Shoot;
  onClose: () => void;
  onFilter: (filter: Filter) => void;
  /** the picks are to be trimmed or filled to the number */
  onNumber: () => void;
}) {
  const client = useQueryClient();
  const frames = useShoot((state) => state.frames);
  const version = useShoot((state) => state.marksVersion);
  const seen = useShoot((state) => state.seenCount);
  const tally = useMemo(
    () => tallyOf(frames, useShoot.getState().marks),
    // eslint-disable-next-line react-hooks/exhaustive-deps -- the marks are changed in place
    [frames, version],
  );
  const { data: pace } = useQuery({
    queryKey: ['pace', shoot.id, tally.undecided],
    queryFn: () =>
      ask(api.GET('/api/shoots/{shoot}/pace', { params: { path: { shoot: shoot.id } } })),
    placeholderData: (before) => before,
  });
  const decided = tally.frames - tally.undecided;
  const left = pace?.a_minute ? (tally.undecided / pace.a_minute) * 60 : null;
  const show = (decision: 'pick' | 'reject' | 'undecided') => {
    onFilter({ ...NO_FILTER, decisions: [decision] });
    onClose();
  };
  const aim = (value: number) => {
    ask(
      api.PATCH('/api/shoots/{shoot}', {
        params: { path: { shoot: shoot.id } },
        body: { keep_target: value },
      }),
    )
      .then(() => client.invalidateQueries({ queryKey: ['shoot', shoot.id] }))
      .catch((error: unknown) => useShoot.getState().say(inWords(error), true));
  };
  return (
    <dl className="figures grid grid-cols-[auto_1fr] items-baseline gap-x-6 gap-y-3">
      <dt>
        <Trans>Decided</Trans>
      </dt>
      <dd>
        <Trans>
          <strong>{whole(decided)}</strong> of {counted(tally.frames, 'frame')}
        </Trans>
        {tally.undecided > 0 && (
          <>
            {' · '}
            <Link onClick={() => show('undecided')}>
              <Trans>{tally.undecided} undecided</Trans>
            </Link>
          </>
        )}
        {' · '}
        <Link onClick={() => show('reject')}>{counted(tally.rejects, 'reject')}</Link>
        <Bar value={decided} most={tally.frames} />
      </dd>
      <dt>
        <Trans>Looked at</Trans>
      </dt>
      <dd>
        <Trans>
          <strong>{whole(seen)}</strong> of {counted(tally.frames, 'frame')}
        </Trans>
        {seen < tally.frames && (
          <>
            {' · '}
            <Link
              onClick={() => {
                onFilter({ ...NO_FILTER, written: 'not seen' });
                onClose();
              }}
            >
              <Trans>{whole(tally.frames - seen)} not yet</Trans>
            </Link>
          </>
        )}
        <Bar value={seen} most={tally.frames} />
      </dd>
      <dt>
        <Trans>Kept</Trans>
      </dt>
      <dd>
        <Link onClick={() => show('pick')}>
          <strong>{counted(tally.picks, 'pick')}</strong>
        </Link>{' '}
        {shoot.keep_target !== null && (
          <>
            {t`of ${shoot.keep_target}: ${againstTarget(tally.picks, shoot.keep_target)}`}
            {tally.picks !== shoot.keep_target && (
              <>
                {' · '}
                <Link
                  onClick={() => {
                    onClose();
                    onNumber();
                  }}
                >
                  {tally.picks > shoot.keep_target ? t`trim them` : t`fill them up`}
                </Link>
              </>
            )}
            <Bar value={tally.picks} most={shoot.keep_target} />
          </>
        )}
        <label className="mt-1 flex items-center gap-2 text-quiet">
          <Trans>of</Trans>
          <input
            key={shoot.keep_target}
            type="number"
            min={0}
            aria-label={t`How many are to be kept`}
            defaultValue={shoot.keep_target ?? ''}
            placeholder={t`no target`}
            className="h-8 w-28 rounded border border-line bg-paper px-2 text-ink"
            onKeyDown={(event) => event.key === 'Enter' && event.currentTarget.blur()}
            onBlur={(event) => {
              const value = Number(event.target.value);
              if (Number.isInteger(value) && value >= 0 && value !== (shoot.keep_target ?? 0))
                aim(value);
            }}
          />
          <Trans>to be kept</Trans>
        </label>
      </dd>
      <dt>
        <Trans>Groups</Trans>
      </dt>
      <dd>
        {tally.bare.length
          ? t`${counted(tally.bare.length, 'group')} of ${tally.groups} without a pick`
          : t`each of the ${tally.groups} groups has a pick`}
        {tally.bare.length > 0 && (
          <>
            {' · '}
            <Link
              onClick={() => {
                onFilter({ ...NO_FILTER, written: 'unpicked' });
                onClose();
              }}
            >
              <Trans>show them</Trans>
            </Link>
          </>
        )}
      </dd>
      <dt>
        <Trans>Pace</Trans>
      </dt>
      <dd>
        {pace?.a_minute
          ? t`${Math.round(pace.a_minute)} frames a minute`
          : t`after a few more decisions`}
        {!!pace?.worked_s && t` · ${duration(pace.worked_s)} so far`}
        <p className="text-quiet">
          <Trans>Pauses of more than a minute don’t count.</Trans>
        </p>
      </dd>
      <dt>
        <Trans>Left</Trans>
      </dt>
      <dd>
        {shoot.way === 'weed_out' && seen < tally.frames
          ? t`${counted(tally.frames - seen, 'frame')} to look at`
          : tally.undecided === 0
            ? t`Every frame is decided.`
            : left === null
              ? counted(tally.undecided, 'frame')
              : t`about ${duration(left)}`}
      </dd>
    </dl>
  );
}

function Bar({ value, most }: { value: number; most: number }) {
  return (
    <progress
      aria-hidden="true"
      className="mt-1 block h-2 w-full"
      max={Math.max(1, most)}
      value={Math.min(value, most)}
    />
  );
}

function Link({ onClick, children }: { onClick: () => void; children: React.ReactNode }) {
  return (
    <button type="button" className="underline" onClick={onClick}>
      {children}
    </button>
  );
}
