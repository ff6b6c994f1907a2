import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import { useQuery } from '@tanstack/react-query';
import { useMemo, useState } from 'react';

import { Help } from '../../parts/help';
import { api, ask, inWords, type HintKind, type Label } from '../../api/client';
import { counted } from '../../texts/numbers';
import { figureWords, loadHints, names, useHints } from '../../state/hints';
import { useShoot } from '../../state/shoot';
import { Pictures } from './pictures';

/** So many frames on either side of the threshold. */
const EACH = 4;
const STEPS = 200;

/** The threshold of a kind, how many frames it would name, and those just on either side of it. */
export function Beside({
  kind,
  labels,
  onOpen,
}: {
  kind: HintKind;
  labels: readonly Label[];
  onOpen: (id: number) => void;
}) {
  const shootId = useShoot((state) => state.shootId);
  const version = useHints((state) => state.version);
  const [moved, setMoved] = useState<number | null>(null);
  const { data } = useQuery({
    queryKey: ['figures', shootId, kind.name, version],
    queryFn: () =>
      ask(
        api.GET('/api/shoots/{shoot}/hints/{kind}', {
          params: { path: { shoot: shootId, kind: kind.name } },
        }),
      ),
    placeholderData: (last) => last,
    staleTime: Infinity,
  });
  const threshold = moved ?? kind.threshold;
  const sides = useMemo(() => sidesOf(kind, data, threshold), [kind, data, threshold]);
  const store = async (value: number | null) => {
    try {
      await ask(
        api.PUT('/api/shoots/{shoot}/hints/{kind}', {
          params: { path: { shoot: shootId, kind: kind.name } },
          body: { threshold: value },
        }),
      );
      await loadHints();
      setMoved(null);
    } catch (error) {
      setMoved(null);
      useShoot.getState().say(inWords(error), true);
    }
  };
  const figures = new Map(data?.frames.map((id, n) => [id, data.figures[n]!]));
  const words = (id: number) => figureWords(kind, figures.get(id) ?? 0);
  const step = Math.max(10 ** -kind.decimals, (kind.most - kind.least) / STEPS);
  return (
    <section aria-label={kind.title} className="figures shrink-0 px-4 pt-3 pb-2">
      <div className="flex items-baseline gap-3">
        <h3 className="text-base font-bold">{kind.title}</h3>
        <Help about={t`Hints and thresholds`}>
          <p>
            <Trans>
              A hint is a reason to look, not a verdict: nothing is marked by it. Each frame has a
              figure; frames beyond the threshold are named.
            </Trans>
          </p>
          <p>
            <Trans>
              Move the threshold until the pictures on either side of it look right to you. “Just
              named” and “just not named” are the frames next to it. It holds for this shoot.
            </Trans>
          </p>
          <p>
            <Trans>
              Blur is in px at 100 %: under 1 is as sharp as it gets, 2 is seen at 100 %, 5 in a
              small print.
            </Trans>
          </p>
        </Help>
        <p className="min-w-0 flex-1 text-[13px] text-quiet">{kind.meaning}</p>
      </div>
      <div className="mt-1.5 flex items-center gap-3">
        <label className="flex min-w-0 flex-1 items-center gap-3">
          <span className="shrink-0">
            {kind.below ? t`Up to` : t`From`} <strong>{figureWords(kind, threshold)}</strong>
          </span>
          <input
            type="range"
            aria-label={t`Threshold of ${kind.title}`}
            className="min-w-24 flex-1"
            min={kind.least}
            max={kind.most}
            step={Number(step.toFixed(kind.decimals))}
            value={threshold}
            onChange={(event) => setMoved(Number(event.target.value))}
            onPointerUp={() => moved !== null && void store(moved)}
            onKeyUp={() => moved !== null && void store(moved)}
            onBlur={() => moved !== null && void store(moved)}
          />
        </label>
        <span className="shrink-0 text-[13px] text-quiet">{kind.figure}</span>
        <strong data-testid="would-name" className="w-36 shrink-0 text-right">
          <Trans>names {counted(sides.count, 'frame')}</Trans>
        </strong>
        {kind.threshold !== kind.usual && (
          <button type="button" className="shrink-0 underline" onClick={() => void store(null)}>
            <Trans>usual {figureWords(kind, kind.usual)}</Trans>
          </button>
        )}
      </div>
      <div className="mt-2 flex gap-4 overflow-hidden rounded bg-stage p-2">
        <Side
          title={t`just not named`}
          ids={sides.outside}
          labels={labels}
          words={words}
          onOpen={onOpen}
        />
        <div className="w-px shrink-0 bg-on-stage/60" />
        <Side
          title={t`just named`}
          ids={sides.inside}
          labels={labels}
          words={words}
          onOpen={onOpen}
        />
      </div>
    </section>
  );
}

function Side({
  title,
  ids,
  labels,
  words,
  onOpen,
}: {
  title: string;
  ids: readonly number[];
  labels: readonly Label[];
  words: (id: number) => string;
  onOpen: (id: number) => void;
}) {
  return (
    <div className="h-[116px] min-w-0 flex-1 overflow-hidden">
      <p className="mb-1 text-xs font-semibold text-on-stage">{title}</p>
      {ids.length ? (
        <Pictures ids={ids} labels={labels} height={76} words={words} onOpen={onOpen} />
      ) : (
        <p className="text-xs text-on-stage">
          <Trans>none</Trans>
        </p>
      )}
    </div>
  );
}

/**
 * How many frames a threshold names, and the nearest on either side of it, the nearest to it in the
 * middle.
 */
export function sidesOf(
  kind: HintKind,
  data: { frames: number[]; figures: number[] } | undefined,
  threshold: number,
): { count: number; outside: number[]; inside: number[] } {
  if (!data) return { count: kind.named.length, outside: [], inside: [] };
  const inside: number[] = [];
  const outside: number[] = [];
  data.frames.forEach((id, n) => {
    (names(kind, data.figures[n]!, threshold) ? inside : outside).push(id);
  });
  // In order of size: what is just named is at the near end of each.
  return kind.below
    ? {
        count: inside.length,
        outside: outside.slice(0, EACH).reverse(),
        inside: inside.slice(-EACH).reverse(),
      }
    : { count: inside.length, outside: outside.slice(-EACH), inside: inside.slice(0, EACH) };
}
