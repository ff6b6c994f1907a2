import { plural, t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import { useEffect, useMemo } from 'react';

import type { Settings } from '../../api/client';
import { Help } from '../../parts/help';
import { BarLine, Choice, StageBar } from '../../parts/on-stage';
import { Act } from '../../parts/key-cap';
import { Thumbnail } from '../../parts/picture';
import { ZoomControl } from '../../parts/zoom-control';
import { keepFocus } from '../../parts/keep-focus';
import {
  bringBack,
  carry,
  compareGroup,
  hasSet,
  pages,
  remaining,
  setAlone,
  swapIn,
  takeOut,
  TILE_COUNTS,
  turnPage,
  useCompare,
  type Way,
} from '../../state/compare';
import { useFaces } from '../../state/faces';
import { ratioOf } from '../../state/frames';
import { withParts } from '../../state/pairs';
import { useShoot } from '../../state/shoot';
import { FacesBelow } from '../faces/faces-below';
import { GroupTogether } from '../groups/together';
import type { CloseUp } from './close-up';
import { PairStage } from './pair';
import { TileStage } from './stage';
import { usePinned } from './use-pinned';

/** "only 3, rejects 5" */
function onlyWords(place: number, others: number): string {
  const rest = plural(others, { one: 'rejects # other', other: 'rejects # others' });
  return others ? t`only ${place}, ${rest}` : t`only ${place}`;
}

/** Two to twelve frames at once, at the same part of the subject; the weaker ones leave. */
export function SideView({
  commands,
  labels,
  near,
  bare,
  onClose,
  onKnockout,
  onMost,
  onOnly,
}: CloseUp & {
  onKnockout: () => void;
  onMost: (count: Settings['tiles']) => void;
  /** the active frame is to be the only one kept */
  onOnly: () => void;
}) {
  const shootId = useShoot((state) => state.shootId);
  const marks = useShoot((state) => state.marks);
  const marksVersion = useShoot((state) => state.marksVersion);
  const active = useShoot((state) => state.active);
  const { ids, out, rejectsLeave, carried, page, way, alone, most } = useCompare();
  useEffect(() => {
    if (!hasSet(shootId)) compareGroup();
  }, [shootId]);
  const all = useMemo(
    () => pages(remaining({ ids, out, rejectsLeave }, marks), carried, most),
    // Marks change in place.
    // eslint-disable-next-line react-hooks/exhaustive-deps
    [ids, out, rejectsLeave, carried, most, marks, marksVersion],
  );
  const shown = all[Math.min(page, all.length - 1)]!;
  usePinned(shown);
  const kept = new Set(active === null ? [] : withParts([active]));
  const left = all.flat().length - (all.length - 1) * (carried !== null && all.length > 1 ? 1 : 0);

  if (!shown.length) {
    return (
      <div className="flex h-full flex-col items-center justify-center gap-3 bg-stage text-on-stage">
        <p>
          <Trans>All frames of this set are rejected or taken out.</Trans>
        </p>
        <button
          type="button"
          className="rounded border border-on-stage px-3 py-1.5 font-semibold"
          onClick={() => useCompare.setState({ out: [], rejectsLeave: false })}
        >
          <Trans>Show all {ids.length} of them</Trans>
        </button>
      </div>
    );
  }
  return (
    <div className="flex h-full flex-col bg-stage">
      {!bare && (
        <StageBar>
          <BarLine>
            <strong>{left === 1 ? t`one is left` : t`${left} of ${ids.length}`}</strong>
            {all.length > 1 && (
              <span className="flex items-center gap-1.5">
                <Trans>
                  page {Math.min(page, all.length - 1) + 1} of {all.length}
                </Trans>
                <Act of="page-before" commands={commands} onClick={() => turnPage(-1)}>
                  <Trans>before</Trans>
                </Act>
                <Act of="page-next" commands={commands} onClick={() => turnPage(1)}>
                  <Trans>next</Trans>
                </Act>
                <Act of="carry" commands={commands} onClick={carry}>
                  {carried === active ? t`no longer carry` : t`carry along`}
                </Act>
              </span>
            )}
            {active !== null && commands.some(({ id }) => id === 'keep-only') && (
              <Act of="keep-only" commands={commands} onClick={onOnly}>
                {onlyWords(
                  shown.indexOf(active) + 1,
                  ids.filter((id) => !kept.has(id) && marks.get(id)?.decision !== 'reject').length,
                )}
              </Act>
            )}
            <Act of="take-out" commands={commands} onClick={takeOut}>
              <Trans>take out</Trans>
            </Act>
            {out.length > 0 && (
              <Act of="bring-back" commands={commands} onClick={bringBack}>
                <Trans>bring back ({out.length} out)</Trans>
              </Act>
            )}
            <ZoomControl near={near} onClose={onClose} />
            {near > 0 && way === 'tiles' && (
              <Act of="alone" commands={commands} onClick={() => setAlone(!alone)}>
                {alone ? t`one alone` : t`together`}
              </Act>
            )}
            <Choice on={rejectsLeave} onChange={(on) => useCompare.setState({ rejectsLeave: on })}>
              <Trans>rejects leave</Trans>
            </Choice>
            <span className="flex-1" />
            <Help about={t`Side by side`}>
              <p>
                <Trans>
                  Looking close, every frame shows the same part of the subject, wherever it lies in
                  the frame. Click another part in one of them, and all follow; a place that is not
                  sure says so.
                </Trans>
              </p>
              <p>
                <Trans>
                  Under each stands its blur there in px at 100 %, and its rank: the less, the
                  sharper. “Tied” means that nobody could see a difference.
                </Trans>
              </p>
              <p>
                <Trans>
                  Drag to look elsewhere in all; with Alt held, one frame moves alone. A frame taken
                  out keeps its marks.
                </Trans>
              </p>
              <p>
                <Trans>
                  Shift with a figure keeps only the frame at that place: it is picked, the others
                  are rejected, and the next group comes.
                </Trans>
              </p>
            </Help>
            <Act
              of="faces"
              commands={commands}
              onClick={() => useFaces.setState(({ open }) => ({ open: !open }))}
            >
              <Trans>faces</Trans>
            </Act>
            {ids.length > TILE_COUNTS[0] && (
              <label className="flex items-center gap-1.5">
                <select
                  aria-label={t`How many side by side at most`}
                  className="h-6 rounded border border-line bg-paper px-1 text-ink"
                  value={most}
                  onChange={(event) => {
                    onMost(Number(event.target.value) as Settings['tiles']);
                    event.target.blur();
                  }}
                >
                  {TILE_COUNTS.map((count) => (
                    <option key={count} value={count}>
                      {count}
                    </option>
                  ))}
                </select>
                <Trans>at once</Trans>
              </label>
            )}
            <Ways disabled={shown.length < 2 && way === 'tiles'} />
            <Act of="knockout" commands={commands} onClick={onKnockout}>
              <Trans>knockout</Trans>
            </Act>
            <GroupTogether ids={ids} />
          </BarLine>
        </StageBar>
      )}
      <div className={`flex min-h-0 flex-1 ${bare ? '' : 'p-2'}`}>
        {way === 'tiles' || shown.length < 2 ? (
          <TileStage ids={shown} near={near} labels={labels} bare={bare} onClose={onClose} />
        ) : (
          <PairStage ids={shown} near={near} labels={labels} onClose={onClose} />
        )}
        {!bare && <Aside shown={shown} />}
      </div>
      <FacesBelow view="side" ids={shown} bare={bare} onClose={onClose} />
    </div>
  );
}

const WAYS = [
  ['tiles', t`beside`],
  ['blink', t`blink`],
  ['difference', t`difference`],
] as const;
const RATES = [
  [1000, '1 s'],
  [500, '½ s'],
  [350, '⅓ s'],
] as const;

/** Beside each other, or two of them in one place. */
function Ways({ disabled }: { disabled: boolean }) {
  const { way, rate } = useCompare();
  return (
    <span className="flex items-center gap-1">
      <select
        aria-label={t`How they are compared`}
        className="h-6 rounded border border-line bg-paper px-1 text-ink"
        disabled={disabled}
        value={way}
        onChange={(event) => {
          useCompare.setState({ way: event.target.value as Way });
          // The keys belong to the stage.
          event.target.blur();
        }}
      >
        {WAYS.map(([choice, word]) => (
          <option key={choice} value={choice}>
            {word}
          </option>
        ))}
      </select>
      {way === 'blink' && (
        <select
          aria-label={t`How long each stays`}
          className="h-6 rounded border border-line bg-paper px-1 text-ink"
          value={rate}
          onChange={(event) => useCompare.setState({ rate: Number(event.target.value) })}
        >
          {RATES.map(([ms, word]) => (
            <option key={ms} value={ms}>
              {word}
            </option>
          ))}
        </select>
      )}
    </span>
  );
}

/** Frames of the group or the set that are not on the stage; a click swaps one in. */
function Aside({ shown }: { shown: readonly number[] }) {
  const frames = useShoot((state) => state.frames);
  const byId = useShoot((state) => state.byId);
  const ids = useCompare((state) => state.ids);
  const beside = useMemo(() => {
    const groups = new Set(ids.map((id) => byId.get(id)?.group));
    const there = new Set(shown);
    const set = new Set(ids);
    const mates = frames.filter((frame) => groups.has(frame.group) && !set.has(frame.id));
    // Only the group's own frames are offered beyond the set, not those of a whole selection.
    const others = groups.size === 1 ? mates.map((mate) => mate.id) : [];
    return [...ids, ...others].filter((id) => !there.has(id));
  }, [frames, byId, ids, shown]);
  if (!beside.length) return null;
  return (
    <aside
      aria-label={t`Not on the stage`}
      className="figures ml-2 flex w-24 shrink-0 flex-col gap-2 overflow-y-auto text-xs text-on-stage"
    >
      <span>
        <Trans>{beside.length} more: click to swap in</Trans>
      </span>
      {beside.map((id) => (
        <Other key={id} id={id} />
      ))}
    </aside>
  );
}

function Other({ id }: { id: number }) {
  const frame = useShoot((state) => state.byId.get(id));
  const rejected = useShoot((state) => state.marks.get(id)?.decision === 'reject');
  if (!frame) return null;
  return (
    <button
      type="button"
      aria-label={t`Swap in ${frame.name}`}
      className="block w-full shrink-0 text-left"
      onMouseDown={keepFocus}
      onClick={() => swapIn(id)}
    >
      <span
        className="relative block overflow-hidden bg-black/20"
        style={{ aspectRatio: ratioOf(frame) }}
      >
        {frame.picture > 0 && <Thumbnail frame={frame} />}
      </span>
      <span className="flex justify-between">
        {frame.name}{' '}
        {rejected && (
          <span className="font-bold">
            <Trans>rejected</Trans>
          </span>
        )}
      </span>
    </button>
  );
}
