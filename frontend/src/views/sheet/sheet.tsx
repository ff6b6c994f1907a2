import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import { useVirtualizer } from '@tanstack/react-virtual';
import { ChevronDown, ChevronRight } from 'lucide-react';
import { useEffect, useLayoutEffect, useMemo, useRef, useState } from 'react';

import { api, type Label } from '../../api/client';
import { counted } from '../../texts/numbers';
import { useSize } from '../../parts/use-size';
import { useTitle } from '../../parts/key-cap';
import { GroupTogether } from '../groups/together';
import { areOfSeveralDays, dayOf, dayWords, takenInWords, type Frame } from '../../state/frames';
import type { Edit } from '../../state/marking';
import { groupWords, useHints, worseThan } from '../../state/hints';
import { runName, runOf, unfolded } from '../../state/orders';
import { useShoot } from '../../state/shoot';
import { SheetCell } from './cell';
import { useDrawing } from './drawing';
import { HoverBar } from './hover';
import { DAY, HEADING, layout, NAME, pictureTop, snapped, type Row } from './layout';
import { useAnchored, useUnmoved } from './use-unmoved';

const EDGE = 14;
const TOP = 8;

/** The rows as laid out last, for the commands that move by row. */
export const sheetRows: { current: readonly Row[] } = { current: [] };

/** The contact sheet: every frame that passes the filter, group by group. */
export function Sheet({
  rowHeight,
  names,
  labels,
  busy,
  onOpen,
  onFold,
  onMark,
}: {
  rowHeight: number;
  /** whether names stand under the frames */
  names: boolean;
  labels: readonly Label[];
  /** whether analysis goes on, which may order and group the frames anew */
  busy: boolean;
  onOpen: () => void;
  onFold: (group: number) => void;
  /** Undefined where nothing can be marked. */
  onMark: ((id: number, edit: Edit) => void) | undefined;
}) {
  const box = useRef<HTMLDivElement>(null);
  const { width } = useSize(box);
  const visible = useShoot((state) => state.visible);
  const byId = useShoot((state) => state.byId);
  const active = useShoot((state) => state.active);
  const order = useShoot((state) => state.order);
  const folded = useShoot((state) => state.folded);
  // Only these orders, and what folded groups show, depend on the marks.
  const marksVersion = useShoot((state) =>
    order === 'stars' || order === 'decision' || state.folded.size ? state.marksVersion : 0,
  );
  const placeOf = useHints((state) => state.placeOf);
  const passing = useMemo(() => visible.flatMap((id) => byId.get(id) ?? []), [visible, byId]);
  const shown = useMemo(() => {
    const { marks } = useShoot.getState();
    if (!folded.size || order !== 'time') return passing;
    const there = new Set(unfolded(visible, folded, active, byId, marks, worseThan(placeOf)));
    return passing.filter((frame) => there.has(frame.id));
    // eslint-disable-next-line react-hooks/exhaustive-deps -- the marks are changed in place
  }, [passing, visible, folded, folded.size ? active : 0, byId, order, marksVersion, placeOf]);
  const several = useMemo(() => order === 'time' && areOfSeveralDays(passing), [order, passing]);
  const laid = useMemo(() => {
    const { marks } = useShoot.getState();
    const room = width - 2 * EDGE;
    const run = (frame: Frame) => runOf(frame, order, marks);
    const fitting = snapped(shown, room, rowHeight, run);
    const under = names ? NAME : 0;
    return [fitting, width > 0 ? layout(shown, room, fitting, run, under, several) : []] as const;
    // eslint-disable-next-line react-hooks/exhaustive-deps -- the marks are changed in place
  }, [shown, width, rowHeight, names, order, several, marksVersion]);
  const chosen = useShoot(
    ({ filter, filterOn, undo, alike }) =>
      `${filterOn} ${JSON.stringify(filter)} ${undo} ${alike.length}`,
  );
  const by = `${chosen} ${order} ${width} ${rowHeight} ${names} ${[...folded].join()}`;
  const [height, rows] = useUnmoved(laid, by, busy, box);
  const [hovered, setHovered] = useState<number | null>(null);
  const sizes = useMemo(() => groupFacts(passing), [passing]);
  const everything = useShoot((state) => state.frames);
  const wholeSizes = useMemo(() => {
    const counts = new Map<number, number>();
    for (const { group } of everything) counts.set(group, (counts.get(group) ?? 0) + 1);
    return counts;
  }, [everything]);
  const dayCounts = useMemo(() => {
    const counts = new Map<number | undefined, number>();
    for (const frame of passing) counts.set(dayOf(frame), (counts.get(dayOf(frame)) ?? 0) + 1);
    return counts;
  }, [passing]);
  useEffect(() => {
    sheetRows.current = rows;
  }, [rows]);

  // The virtualiser keeps its own state; the compiler must not cache what it returns.
  // eslint-disable-next-line react-hooks/incompatible-library
  const virtual = useVirtualizer({
    count: rows.length,
    getScrollElement: () => box.current,
    estimateSize: (n) => rows[n]?.height ?? height,
    overscan: 3,
    paddingStart: TOP,
    paddingEnd: 24,
  });
  useLayoutEffect(() => virtual.measure(), [rows, virtual]);

  const activeRow = useMemo(
    () => rows.findIndex((row) => row.cells.some((cell) => cell.id === active)),
    [rows, active],
  );
  // Follow the person, not the layout: pictures that come in must not move what is looked at.
  const followed = useRef<{ active: number | null; list: unknown }>(null);
  const list = order === 'time' && !folded.size ? visible : shown;
  useLayoutEffect(() => {
    const last = followed.current;
    if (activeRow < 0 || (last?.active === active && last.list === list)) return;
    followed.current = { active, list };
    virtual.scrollToIndex(activeRow, { align: 'auto' });
  }, [active, list, activeRow, virtual]);

  useAnchored(rows, by, busy, box, hovered ?? active);

  const items = virtual.getVirtualItems();
  useLookingAt(items.flatMap((item) => rows[item.index]?.cells.map((cell) => cell.id) ?? []));
  const { rect, handlers } = useDrawing(box, rows, { left: EDGE, top: TOP, height });

  return (
    <div
      ref={box}
      className="relative h-full overflow-y-auto bg-stage select-none"
      onPointerOver={(event) => {
        if (event.pointerType !== 'mouse') return;
        const over = (event.target as Element).closest<HTMLElement>('[data-frame], [data-hover]');
        const id = over?.dataset['frame'] ?? over?.dataset['hover'];
        setHovered(id === undefined ? null : Number(id));
      }}
      onPointerLeave={() => setHovered(null)}
      {...handlers}
    >
      <div style={{ height: virtual.getTotalSize() }}>
        {/* Two layers: a list box may hold nothing but its options. */}
        <div role="listbox" aria-label={t`Frames`} aria-multiselectable="true" tabIndex={-1}>
          {items.flatMap((item) => {
            const row = rows[item.index];
            // Not in elements of rows: a frame that comes into another row keeps its own.
            return (row?.cells ?? []).map((cell) => (
              <SheetCell
                key={cell.id}
                id={cell.id}
                x={EDGE + cell.x}
                y={item.start + pictureTop(row!)}
                width={cell.width}
                height={height}
                named={names}
                labels={labels}
                onOpen={onOpen}
              />
            ));
          })}
        </div>
        {items.flatMap(
          (item) =>
            rows[item.index]?.headings.map((heading) => (
              <div
                key={`${order === 'time' ? heading.rest : item.key} ${heading.group}`}
                data-group={heading.group}
                className="figures absolute top-0 flex items-center gap-2.5 overflow-hidden text-[13px] whitespace-nowrap text-on-stage"
                style={{
                  left: EDGE + heading.x,
                  width: heading.width,
                  height: HEADING,
                  transform: `translateY(${item.start + pictureTop(rows[item.index]!) - HEADING}px)`,
                }}
              >
                {order !== 'time' ? (
                  <strong>{runName(heading.group, order)}</strong>
                ) : heading.rest ? (
                  <span>
                    <Trans>{heading.group + 1} continued</Trans>
                  </span>
                ) : (
                  <GroupHeading
                    group={heading.group}
                    span={sizes.get(heading.group)!}
                    all={wholeSizes.get(heading.group) ?? 0}
                    folded={folded.has(heading.group)}
                    onFold={onFold}
                  />
                )}
              </div>
            )) ?? [],
        )}
        {items.map((item) => {
          const day = rows[item.index]?.day;
          return (
            day !== undefined && (
              <h2
                key={item.key}
                data-day={day}
                className="figures absolute top-0 flex items-end gap-3 border-b border-on-stage/40 pb-0.5 font-bold text-on-stage"
                style={{
                  left: EDGE,
                  width: width - 2 * EDGE,
                  height: DAY - 4,
                  transform: `translateY(${item.start}px)`,
                }}
              >
                {dayWords(day)}
                <span className="font-normal">{counted(dayCounts.get(day) ?? 0, 'frame')}</span>
              </h2>
            )
          );
        })}
        {!rect &&
          items.map((item) => {
            const row = rows[item.index];
            const cell = row?.cells.find(({ id }) => id === hovered);
            return (
              row &&
              cell && (
                <HoverBar
                  key={cell.id}
                  id={cell.id}
                  left={EDGE + cell.x}
                  top={item.start + pictureTop(row) + height}
                  width={cell.width}
                  onMark={onMark}
                />
              )
            );
          })}
        {rect && (
          <div
            aria-hidden="true"
            className="pointer-events-none absolute z-10 border border-white bg-white/20 outline outline-black/60"
            style={{
              left: rect.left,
              top: rect.top,
              width: rect.right - rect.left,
              height: rect.bottom - rect.top,
            }}
          />
        )}
      </div>
    </div>
  );
}

interface GroupSpan {
  count: number;
  from: number | null;
  to: number | null;
  ids: readonly number[];
  /** whether the first frame's file doesn't say when it was taken */
  undated: boolean;
}

function groupFacts(frames: readonly Frame[]): Map<number, GroupSpan> {
  const spans = new Map<number, GroupSpan & { ids: number[] }>();
  for (const { id, group, shotAt, undated = false } of frames) {
    let span = spans.get(group);
    if (!span) spans.set(group, (span = { count: 0, from: shotAt, to: shotAt, ids: [], undated }));
    span.ids.push(id);
    span.count += 1;
    span.to = shotAt;
  }
  return spans;
}

/** Number, time and length of a group; a click selects its frames, the arrow folds it. */
function GroupHeading({
  group,
  span: { count, from, to, ids, undated },
  all,
  folded,
  onFold,
}: {
  group: number;
  span: GroupSpan;
  /** how many frames it has, whatever passes the filter */
  all: number;
  folded: boolean;
  onFold: (group: number) => void;
}) {
  const title = useTitle();
  const seconds = from !== null && to !== null ? to - from : 0;
  const span =
    seconds < 60 ? `${Math.max(1, Math.round(seconds))} s` : t`${Math.round(seconds / 60)} min`;
  const select = () => {
    const { visible, byId, select, go } = useShoot.getState();
    const ids = visible.filter((id) => byId.get(id)?.group === group);
    select(ids);
    go(ids[0]);
  };
  const Arrow = folded ? ChevronRight : ChevronDown;
  return (
    <>
      {count > 1 && (
        <button
          type="button"
          tabIndex={-1}
          aria-label={folded ? t`Unfold group ${group + 1}` : t`Fold group ${group + 1}`}
          aria-expanded={!folded}
          title={title(folded ? t`Unfold` : t`Fold to the best frame`, 'fold')}
          className="-mr-2 -ml-1.5"
          onClick={() => onFold(group)}
        >
          <Arrow size={17} />
        </button>
      )}
      <button
        type="button"
        tabIndex={-1}
        title={title(t`Select this group`, 'select-group')}
        className="flex items-center gap-2.5 hover:underline"
        onClick={select}
      >
        <strong>{group + 1}</strong>
        <span>{takenInWords({ shotAt: from, undated })}</span>
        {(count > 1 || count < all) && (
          <span>
            {count < all ? t`${count} of ${counted(all, 'frame')}` : counted(count, 'frame')}
            {folded ? t`, folded` : ` · ${span}`}
          </span>
        )}
      </button>
      <GroupTogether ids={ids} />
      <GroupHints ids={ids} />
    </>
  );
}

/** What the hints say of a group, in short. */
function GroupHints({ ids }: { ids: readonly number[] }) {
  const byFrame = useHints((state) => state.byFrame);
  const unusable = useHints((state) => state.unusable);
  const words = useMemo(() => groupWords(ids, byFrame, unusable), [ids, byFrame, unusable]);
  return words ? (
    <span className="truncate" title={t`Hints: ${words}`}>
      {words}
    </span>
  ) : null;
}

/** Tell the server which frames are on screen while their pictures are still being made. */
function useLookingAt(ids: number[]): void {
  const shootId = useShoot((state) => state.shootId);
  const waiting = useShoot((state) =>
    ids
      .filter((id) => (state.byId.get(id)?.picture ?? 2) < 2)
      .slice(0, 200)
      .join(),
  );
  useEffect(() => {
    if (!waiting) return;
    const timer = setTimeout(() => {
      void api.PUT('/api/shoots/{shoot}/looking-at', {
        params: { path: { shoot: shootId } },
        body: { frames: waiting.split(',').map(Number) },
      });
    }, 120);
    return () => clearTimeout(timer);
  }, [waiting, shootId]);
}
