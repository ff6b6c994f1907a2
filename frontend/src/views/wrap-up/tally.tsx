import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import { useQuery } from '@tanstack/react-query';
import { useCallback, useMemo } from 'react';

import { api, ask, inWords, type Filter, type Funnel, type Shoot } from '../../api/client';
import { Button } from '../../parts/button';
import { fileName } from '../../parts/files';
import { counted, whole } from '../../texts/numbers';
import { useLabels } from '../../state/settings';
import { settled } from '../../state/marking';
import { NO_FILTER, useShoot } from '../../state/shoot';
import { againstTarget, duration } from '../../state/tally';
import { Plot } from './plot';
import { drawFunnel, drawPace, funnelHeight, PACE_HEIGHT, type Bar, type Ink } from './plots';
import { Thumbnail } from './thumbnail';
import { Step } from './wrap-up';

/** The end of the cull in numbers, and what to look at once more before handing on. */
export function TallyStep({
  shoot,
  onFilter,
  onCompare,
  onNumber,
}: {
  shoot: Shoot;
  onFilter: (filter: Filter) => void;
  onCompare: (ids: readonly number[]) => void;
  onNumber: () => void;
}) {
  const marksVersion = useShoot((state) => state.marksVersion);
  const { data, error } = useQuery({
    queryKey: ['funnel', shoot.id, marksVersion],
    queryFn: () =>
      settled().then(() =>
        ask(api.GET('/api/shoots/{shoot}/funnel', { params: { path: { shoot: shoot.id } } })),
      ),
    placeholderData: (before) => before,
  });
  const target = shoot.keep_target;
  const picks = data?.bars.find((bar) => bar.kind === 'picks')?.frames ?? 0;
  return (
    <Step number={1} title={t`Tally`}>
      {error && <p role="alert">{inWords(error)}</p>}
      {data && <FunnelPlot shoot={shoot} funnel={data} />}
      {data && (
        <ul className="flex flex-col gap-1">
          {target !== null && (
            <li>
              <Trans>
                <strong>{whole(picks)}</strong> kept of {whole(target)} wanted
              </Trans>
              {`: ${againstTarget(picks, target)}.`}
              {picks !== target && (
                <>
                  {' '}
                  <button type="button" className="underline" onClick={onNumber}>
                    {picks > target ? t`trim them` : t`fill them up`}
                  </button>
                </>
              )}
            </li>
          )}
          <li>
            {data.without_pick === 0 ? (
              t`Each of the ${counted(data.groups, 'group')} has a pick.`
            ) : (
              <>
                <Trans>
                  <strong>{counted(data.without_pick, 'group')}</strong> of {data.groups} without a
                  pick.
                </Trans>{' '}
                <button
                  type="button"
                  className="underline"
                  onClick={() => onFilter({ ...NO_FILTER, written: 'unpicked' })}
                >
                  <Trans>show them</Trans>
                </button>
              </>
            )}
          </li>
          <li>
            {data.worked_s > 0
              ? t`The cull took ${duration(data.worked_s)} of work so far`
              : t`No decision was made yet`}
            {data.a_minute ? t`, lately ${Math.round(data.a_minute)} frames a minute.` : '.'}
          </li>
        </ul>
      )}
      {data && data.pace.length > 0 && <PacePlot shoot={shoot} funnel={data} />}
      {data && data.alike.length > 0 && <Alike runs={data.alike} onCompare={onCompare} />}
    </Step>
  );
}

const WORDS = {
  shot: t`shot`,
  decided: t`decided`,
  picks: t`picks`,
  delivered: t`delivered`,
};

function FunnelPlot({ shoot, funnel }: { shoot: Shoot; funnel: Funnel }) {
  const labels = useLabels();
  const bars = useMemo(
    () =>
      funnel.bars.map(({ kind, value, frames }): Bar => {
        const words =
          kind === 'stars'
            ? t`picks with ${value}★ or more`
            : kind === 'label'
              ? t`picks: ${labels.find((label) => label.letter === value)?.name ?? value}`
              : WORDS[kind];
        return { words, frames };
      }),
    [funnel.bars, labels],
  );
  const draw = useCallback(
    (context: CanvasRenderingContext2D, width: number, ink: Ink) =>
      drawFunnel(context, width, bars, ink),
    [bars],
  );
  return (
    <Plot
      title={t`From shot to delivered`}
      words={bars.map((bar) => `${bar.words}: ${bar.frames}`).join(', ')}
      height={funnelHeight(bars)}
      draw={draw}
      name={fileName(t`${shoot.name} tally`, '')}
    />
  );
}

function PacePlot({ shoot, funnel }: { shoot: Shoot; funnel: Funnel }) {
  const { pace, worked_s } = funnel;
  const seconds = worked_s / pace.length;
  const span = seconds < 90 ? `${Math.round(seconds)} s` : duration(seconds);
  const draw = useCallback(
    (context: CanvasRenderingContext2D, width: number, ink: Ink) =>
      drawPace(context, width, pace, span, ink),
    [pace, span],
  );
  return (
    <Plot
      title={t`Decisions over the time worked`}
      words={t`decisions in each ${span}: ${pace.join(', ')}`}
      height={PACE_HEIGHT}
      draw={draw}
      name={fileName(t`${shoot.name} pace`, '')}
    />
  );
}

const MOST = 12;

/** Picks of one group that look nearly the same: perhaps one of them is enough. */
function Alike({
  runs,
  onCompare,
}: {
  runs: readonly (readonly number[])[];
  onCompare: (ids: readonly number[]) => void;
}) {
  const byId = useShoot((state) => state.byId);
  const many = runs.reduce((sum, run) => sum + run.length, 0);
  return (
    <section aria-label={t`Picks that look nearly the same`}>
      <p>
        <Trans>
          <strong>{counted(many, 'pick')}</strong> look nearly the same as another one of their
          group: perhaps one of each is enough.
        </Trans>
      </p>
      <ul className="mt-2 flex flex-col gap-2">
        {runs.slice(0, MOST).map((run) => (
          <li key={run[0]} className="flex items-center gap-2">
            {run.slice(0, 5).map((id) => (
              <Thumbnail key={id} frame={byId.get(id)} named={false} />
            ))}
            {run.length > 5 && (
              <span>
                <Trans>and {run.length - 5} more</Trans>
              </span>
            )}
            <Button onClick={() => onCompare(run)}>
              <Trans>Compare</Trans>
            </Button>
          </li>
        ))}
      </ul>
      {runs.length > MOST && (
        <p className="text-quiet">
          <Trans>And {counted(runs.length - MOST, 'group')} more.</Trans>
        </p>
      )}
    </section>
  );
}
