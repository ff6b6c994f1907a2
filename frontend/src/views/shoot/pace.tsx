import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useMemo } from 'react';

import { api, ask, inWords, type Filter, type Shoot } from '../../api/client';
import { Panel } from '../../parts/dialog';
import { counted } from '../../parts/numbers';
import { NO_FILTER, useShoot } from '../../state/shoot';
import { duration, tallyOf } from '../../state/tally';

export function useTally() {
  const frames = useShoot((state) => state.frames);
  const version = useShoot((state) => state.marksVersion);
  return useMemo(
    () => tallyOf(frames, useShoot.getState().marks),
    // eslint-disable-next-line react-hooks/exhaustive-deps -- the marks are changed in place
    [frames, version],
  );
}

/** Decided of all, kept against the target, groups without a pick, the pace and the time left. */
export function PacePanel({
  shoot,
  open,
  onClose,
  onFilter,
}: {
  shoot: Shoot;
  open: boolean;
  onClose: () => void;
  onFilter: (filter: Filter) => void;
}) {
  return (
    <Panel open={open} onClose={onClose} title="How far the cull is">
      <Pace shoot={shoot} onClose={onClose} onFilter={onFilter} />
    </Panel>
  );
}

function Pace({
  shoot,
  onClose,
  onFilter,
}: {
  shoot: Shoot;
  onClose: () => void;
  onFilter: (filter: Filter) => void;
}) {
  const client = useQueryClient();
  const tally = useTally();
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
      <dt>Decided</dt>
      <dd>
        <strong>{decided.toLocaleString('en')}</strong> of {counted(tally.frames, 'frame')}
        {tally.undecided > 0 && (
          <>
            {' · '}
            <Link onClick={() => show('undecided')}>{tally.undecided} undecided</Link>
          </>
        )}
        {' · '}
        <Link onClick={() => show('reject')}>{counted(tally.rejects, 'reject')}</Link>
        <Bar value={decided} most={tally.frames} />
      </dd>
      <dt>Kept</dt>
      <dd>
        <Link onClick={() => show('pick')}>
          <strong>{tally.picks}</strong> {tally.picks === 1 ? 'pick' : 'picks'}
        </Link>{' '}
        {shoot.keep_target !== null && (
          <>
            {againstTarget(tally.picks, shoot.keep_target)}
            <Bar value={tally.picks} most={shoot.keep_target} />
          </>
        )}
        <label className="mt-1 flex items-center gap-2 text-quiet">
          of
          <input
            key={shoot.keep_target}
            type="number"
            min={0}
            aria-label="How many are to be kept"
            defaultValue={shoot.keep_target ?? ''}
            placeholder="no target"
            className="h-8 w-28 rounded border border-line bg-paper px-2 text-ink"
            onKeyDown={(event) => event.key === 'Enter' && event.currentTarget.blur()}
            onBlur={(event) => {
              const value = Number(event.target.value);
              if (Number.isInteger(value) && value >= 0 && value !== (shoot.keep_target ?? 0))
                aim(value);
            }}
          />
          to be kept
        </label>
      </dd>
      <dt>Groups</dt>
      <dd>
        {tally.bare.length
          ? `${counted(tally.bare.length, 'group')} of ${tally.groups} without a pick`
          : `each of the ${tally.groups} groups has a pick`}
        {tally.bare.length > 0 && (
          <>
            {' · '}
            <Link
              onClick={() => {
                onFilter({ ...NO_FILTER, written: 'unpicked' });
                onClose();
              }}
            >
              show them
            </Link>
          </>
        )}
      </dd>
      <dt>Pace</dt>
      <dd>
        {pace?.a_minute
          ? `${Math.round(pace.a_minute)} frames a minute`
          : 'after a few more decisions'}
        {!!pace?.worked_s && ` · ${duration(pace.worked_s)} so far`}
        <p className="text-quiet">Pauses of more than a minute don’t count.</p>
      </dd>
      <dt>Left</dt>
      <dd>
        {tally.undecided === 0
          ? 'Every frame is decided.'
          : left === null
            ? counted(tally.undecided, 'frame')
            : `about ${duration(left)}`}
      </dd>
    </dl>
  );
}

function againstTarget(picks: number, target: number): string {
  if (picks === target) return `of ${target}: as many as wanted`;
  return picks < target
    ? `of ${target}: ${target - picks} to go`
    : `of ${target}: ${picks - target} too many`;
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
