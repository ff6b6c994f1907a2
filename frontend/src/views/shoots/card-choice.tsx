import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import { useQuery } from '@tanstack/react-query';
import { useMemo, useState } from 'react';

import { api, ask, inWords, type OnCard } from '../../api/client';
import { cameraDay, cameraTime, counted, size } from '../../texts/numbers';

/** What is on a card, as pictures: days and groups to tick, before anything is copied. */
export function CardChoice({
  source,
  target,
  left,
  onLeave,
}: {
  source: string;
  target: string;
  /** files that stay on the card */
  left: ReadonlySet<string>;
  onLeave: (left: ReadonlySet<string>) => void;
}) {
  const { data, error } = useQuery({
    queryKey: ['card-look', source, target],
    queryFn: () => ask(api.POST('/api/cards/look', { body: { source, target } })),
    retry: false,
    staleTime: Infinity,
    gcTime: 0,
  });
  const days = useMemo(() => byDay(data ?? []), [data]);
  if (error)
    return (
      <p role="alert" className="font-semibold text-wrong">
        {inWords(error)}
      </p>
    );
  if (!data)
    return (
      <p className="text-quiet">
        <Trans>Looking at the card …</Trans>
      </p>
    );
  const along = data.filter((frame) => !isLeft(frame, left));
  const set = (frames: readonly OnCard[], wanted: boolean) => {
    const next = new Set(left);
    for (const file of frames.flatMap((frame) => frame.files))
      if (wanted) next.delete(file);
      else next.add(file);
    onLeave(next);
  };
  return (
    <div className="figures flex flex-col gap-2">
      <p className="flex flex-wrap items-baseline gap-x-4">
        <strong>
          <Trans>
            {counted(along.length, 'frame')} of {data.length} come along
          </Trans>
        </strong>
        <button type="button" className="underline" onClick={() => set(data, true)}>
          <Trans>all</Trans>
        </button>
        <button type="button" className="underline" onClick={() => set(data, false)}>
          <Trans>none</Trans>
        </button>
      </p>
      <div
        className="flex max-h-[46vh] flex-col gap-3 overflow-auto rounded border border-line bg-paper p-3"
        tabIndex={0}
        role="region"
        aria-label={t`On the card`}
      >
        {days.map((day) => (
          <section key={day.number} className="flex flex-col gap-2">
            <h3 className="font-semibold">
              <Ticks frames={day.frames} left={left} onSet={set}>
                {cameraDay(day.frames[0]!.taken_at)} · {counted(day.frames.length, 'frame')},{' '}
                {size(day.frames.reduce((sum, frame) => sum + frame.size, 0))}
              </Ticks>
            </h3>
            <div className="flex flex-wrap gap-2">
              {day.groups.map((frames) => (
                <div key={frames[0]!.path} className="rounded border border-line p-1.5">
                  <div className="mb-1 text-[13px]">
                    <Ticks frames={frames} left={left} onSet={set}>
                      {cameraTime(frames[0]!.taken_at)}
                      {frames.length > 1 && ` · ${counted(frames.length, 'frame')}`}
                    </Ticks>
                  </div>
                  <div className="flex flex-wrap gap-1">
                    {frames.map((frame) => (
                      <Small
                        key={frame.path}
                        frame={frame}
                        source={source}
                        along={!isLeft(frame, left)}
                        onToggle={() => set([frame], isLeft(frame, left))}
                      />
                    ))}
                  </div>
                </div>
              ))}
            </div>
          </section>
        ))}
      </div>
    </div>
  );
}

const isLeft = (frame: OnCard, left: ReadonlySet<string>) => left.has(frame.path);
const isCopied = (frame: OnCard) => frame.copied === frame.files.length;

/** A tick for several frames: half where some of them come along. */
function Ticks({
  frames,
  left,
  onSet,
  children,
}: {
  frames: readonly OnCard[];
  left: ReadonlySet<string>;
  onSet: (frames: readonly OnCard[], along: boolean) => void;
  children: React.ReactNode;
}) {
  const along = frames.filter((frame) => !isLeft(frame, left)).length;
  return (
    <label className="flex items-center gap-2">
      <input
        type="checkbox"
        ref={(box) => {
          if (box) box.indeterminate = along > 0 && along < frames.length;
        }}
        checked={along === frames.length}
        onChange={() => onSet(frames, along < frames.length)}
      />
      <span>{children}</span>
    </label>
  );
}

/** One frame, small: a click takes it along or leaves it. */
function Small({
  frame,
  source,
  along,
  onToggle,
}: {
  frame: OnCard;
  source: string;
  along: boolean;
  onToggle: () => void;
}) {
  const [shown, setShown] = useState(frame.picture);
  const name = frame.path.split('/').at(-1)!;
  const copied = isCopied(frame);
  const address = `/api/cards/picture?${new URLSearchParams({ source, path: frame.path })}`;
  return (
    <button
      type="button"
      aria-pressed={along}
      aria-label={copied ? t`${name}, copied before` : name}
      title={copied ? t`${name}, copied before` : name}
      className="relative flex h-16 min-w-16 items-center justify-center overflow-hidden rounded-sm bg-stage"
      onClick={onToggle}
    >
      {shown ? (
        <img
          src={address}
          alt=""
          loading="lazy"
          className={`h-16 w-auto ${along ? '' : 'opacity-25'}`}
          onError={() => setShown(false)}
        />
      ) : (
        <span
          className={`max-w-24 truncate px-1 text-[12px] text-white ${along ? '' : 'opacity-50'}`}
        >
          {name}
        </span>
      )}
      {!along && (
        <span aria-hidden="true" className="absolute inset-x-1 top-1/2 border-t-2 border-white" />
      )}
      {copied && (
        <span className="absolute right-0 bottom-0 rounded-tl bg-chrome px-1 text-[11px] text-ink">
          <Trans>there</Trans>
        </span>
      )}
    </button>
  );
}

/** Frames day by day, and in a day group by group. */
function byDay(
  frames: readonly OnCard[],
): { number: number; frames: OnCard[]; groups: OnCard[][] }[] {
  const days: { number: number; frames: OnCard[]; groups: OnCard[][] }[] = [];
  for (const frame of frames) {
    let day = days.at(-1);
    if (!day || day.number !== frame.day) {
      day = { number: frame.day, frames: [], groups: [] };
      days.push(day);
    }
    day.frames.push(frame);
    const group = day.groups.at(-1);
    if (group && group[0]!.group === frame.group) group.push(frame);
    else day.groups.push([frame]);
  }
  return days;
}
