import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import { useEffect, useMemo, useRef } from 'react';

import { Help } from '../../parts/help';
import type { Beside, Label } from '../../api/client';
import { MarksOver } from '../../parts/marks';
import { counted, fixed, whole } from '../../texts/numbers';
import { Thumbnail } from '../../parts/picture';
import { ratioOf, type Frame } from '../../state/frames';
import { useShoot } from '../../state/shoot';
import { around } from './around';
import { Noticed } from './noticed';
import { filled } from './sharpness';
import { useLooked } from './use-subject';

type Sharpness = Beside['standing'];

/** The frames of this group one above the other, and the frame before and behind the group. */
export function Ladder({ labels }: { labels: readonly Label[] }) {
  const active = useShoot((state) => state.active);
  const visible = useShoot((state) => state.visible);
  const byId = useShoot((state) => state.byId);
  const group = active === null ? undefined : byId.get(active)?.group;

  const { before, members, after } = useMemo(() => {
    const inGroup = (id: number | undefined) => id !== undefined && byId.get(id)?.group === group;
    const first = visible.findIndex(inGroup);
    const last = visible.findLastIndex(inGroup);
    return {
      before: visible[first - 1],
      members: first < 0 ? [] : visible.slice(first, last + 1).filter(inGroup),
      after: visible[last + 1],
    };
  }, [visible, byId, group]);

  const shown = useMemo(
    () => around(members, active === null ? -1 : members.indexOf(active)),
    [members, active],
  );
  const measured = useLooked((state) => state.measured);
  // What was measured at a point of this group stands in place of what matters.
  const at = active !== null && measured.has(active) ? measured : null;
  const sharpness = (id: number): Sharpness | null => {
    if (at) return at.get(id)?.standing ?? null;
    const frame = byId.get(id);
    if (!frame || (frame.blur === null && !frame.standing)) return null;
    return { blur: frame.blur, ...(frame.standing ?? { state: '', words: '', short: '' }) };
  };

  return (
    <div className="flex w-[168px] shrink-0 flex-col bg-black/20 text-xs text-on-stage max-[600px]:max-h-40 max-[600px]:w-full max-[600px]:overflow-y-auto">
      <aside
        aria-label={t`This group`}
        className="figures flex min-h-0 flex-1 flex-col overflow-y-auto p-2"
      >
        {before !== undefined && <Neighbour id={before} word="before" />}
        <p className="mb-1.5 font-semibold">
          <Trans>
            Group {(group ?? 0) + 1} · {counted(members.length, 'frame')}
          </Trans>{' '}
          <Help about={t`The bars`}>
            <p>
              <Trans>
                How sharp each frame of the group is at the part that matters: the longer the bar,
                the sharper. The number is the blur in px at 100 %; those that nothing is sharper
                than have a mark. Click the photograph to compare at another point.
              </Trans>
            </p>
            <p>
              <Trans>
                What matters: the eyes of the largest face, else where the camera says it focused,
                else the sharpest part that most frames of the group agree on.
              </Trans>
            </p>
          </Help>
          {at && (
            <span className="block font-normal">
              <Trans>blur at the point looked at</Trans>
            </span>
          )}
        </p>
        {shown.before > 0 && (
          <p className="mb-2">
            <Trans>{whole(shown.before)} more above</Trans>
          </p>
        )}
        {shown.part.map((id, n) => (
          <Rung
            key={id}
            id={id}
            place={shown.before + n + 1}
            sharpness={sharpness(id)}
            atPoint={!!at}
            labels={labels}
          />
        ))}
        {shown.after > 0 && (
          <p className="mb-2">
            <Trans>{whole(shown.after)} more below</Trans>
          </p>
        )}
        {after !== undefined && <Neighbour id={after} word="next" />}
      </aside>
      {active !== null && <Noticed id={active} />}
    </div>
  );
}

function Rung({
  id,
  place,
  sharpness,
  atPoint,
  labels,
}: {
  id: number;
  place: number;
  /** null until it is measured */
  sharpness: Sharpness | null;
  /** it was measured at the point that is looked at */
  atPoint: boolean;
  labels: readonly Label[];
}) {
  const frame = useShoot((state) => state.byId.get(id));
  const mark = useShoot((state) => state.marks.get(id));
  const active = useShoot((state) => state.active === id);
  const go = useShoot((state) => state.go);
  const button = useRef<HTMLButtonElement>(null);
  useEffect(() => {
    if (!active) return;
    // Where things are is asked for when it is worked out anyway, before the next display refresh.
    const soon = requestAnimationFrame(() => button.current?.scrollIntoView({ block: 'nearest' }));
    return () => cancelAnimationFrame(soon);
  }, [active]);
  if (!frame || !mark) return null;
  return (
    <button
      ref={button}
      type="button"
      className="mb-2 block w-full scroll-my-10 text-left"
      aria-current={active}
      onClick={() => go(id)}
    >
      <Small frame={frame} active={active}>
        <MarksOver mark={mark} labels={labels} linked={!!frame.parts} />
      </Small>
      <span className="mt-1 flex justify-between">
        <span>{place}</span>
        <span className={active ? 'font-bold' : ''}>{frame.name}</span>
      </span>
      {sharpness && <FocusBar {...sharpness} atPoint={atPoint} />}
    </button>
  );
}

/**
 * How sharp a frame is at one part: the longer the bar, the sharper; its blur in px at 100 %, and
 * how it stands.
 */
function FocusBar({ blur, state, words, atPoint }: Sharpness & { atPoint: boolean }) {
  const best = state === 'sharpest' || state === 'tied';
  return (
    <span
      className="mt-0.5 block"
      data-standing={state}
      title={
        atPoint
          ? t`Blur at the point looked at, in px at 100 %: the longer the bar, the sharper`
          : t`Blur at the part that matters, in px at 100 %: the longer the bar, the sharper`
      }
    >
      <span className="flex items-center gap-1.5">
        <span className="h-1.5 flex-1 rounded-sm bg-black/35">
          <span
            data-focus-bar={filled(blur).toFixed(2)}
            className="block h-full rounded-sm bg-on-stage"
            style={{ width: `${100 * filled(blur)}%` }}
          />
        </span>
        {blur !== null && (
          <span className={`w-14 shrink-0 ${best ? 'font-bold' : ''}`}>
            <Trans>{fixed(blur, 1)} px</Trans>
            {best && ' ◂'}
          </span>
        )}
      </span>
      {words && <span className="block leading-tight">{words}</span>}
    </span>
  );
}

function Neighbour({ id, word }: { id: number; word: 'before' | 'next' }) {
  const frame = useShoot((state) => state.byId.get(id));
  const go = useShoot((state) => state.go);
  if (!frame) return null;
  return (
    <button
      type="button"
      aria-label={`${word === 'before' ? t`Group before` : t`Next group`}: ${frame.name}`}
      className={`block w-full text-left ${word === 'before' ? 'mb-2' : 'mt-1'}`}
      onClick={() => go(id)}
    >
      <span className="mb-0.5 block">{word === 'before' ? t`Group before` : t`Next group`}</span>
      <span className="relative block h-9 overflow-hidden opacity-60 hover:opacity-100">
        <Thumbnail frame={frame} />
      </span>
    </button>
  );
}

function Small({
  frame,
  active,
  children,
}: {
  frame: Frame;
  active: boolean;
  children: React.ReactNode;
}) {
  const upright = ratioOf(frame) < 1;
  return (
    <span
      className="relative mx-auto block bg-black/20"
      style={{
        aspectRatio: ratioOf(frame),
        width: upright ? '62%' : '97%',
        outline: active ? '2px solid var(--color-on-stage)' : undefined,
        outlineOffset: 2,
      }}
    >
      {frame.picture > 0 && <Thumbnail frame={frame} />}
      {children}
    </span>
  );
}
