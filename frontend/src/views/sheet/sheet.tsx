import { useVirtualizer } from '@tanstack/react-virtual';
import { useEffect, useLayoutEffect, useMemo, useRef } from 'react';

import { api, type Label } from '../../api/client';
import { counted } from '../../parts/numbers';
import { useSize } from '../../parts/use-size';
import { clock, type Frame } from '../../state/frames';
import { useShoot } from '../../state/shoot';
import { SheetCell } from './cell';
import { HEADING, layout, snapped, type Row } from './layout';

const EDGE = 14;

/** The rows as laid out last, for the commands that move by row. */
export const sheetRows: { current: readonly Row[] } = { current: [] };

/** The contact sheet: every frame that passes the filter, group by group. */
export function Sheet({
  rowHeight,
  labels,
  onOpen,
}: {
  rowHeight: number;
  labels: readonly Label[];
  onOpen: () => void;
}) {
  const box = useRef<HTMLDivElement>(null);
  const { width } = useSize(box);
  const frames = useShoot((state) => state.frames);
  const visible = useShoot((state) => state.visible);
  const active = useShoot((state) => state.active);
  const shown = useMemo(() => {
    const there = new Set(visible);
    return frames.filter((frame) => there.has(frame.id));
  }, [frames, visible]);
  const height = useMemo(
    () => snapped(shown, width - 2 * EDGE, rowHeight),
    [shown, width, rowHeight],
  );
  const rows = useMemo(
    () => (width > 0 ? layout(shown, width - 2 * EDGE, height) : []),
    [shown, width, height],
  );
  const sizes = useMemo(() => groupFacts(shown), [shown]);
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
    paddingStart: 8,
    paddingEnd: 24,
  });
  useLayoutEffect(() => virtual.measure(), [rows, virtual]);

  const activeRow = useMemo(
    () => rows.findIndex((row) => row.cells.some((cell) => cell.id === active)),
    [rows, active],
  );
  // Follow the person, not the layout: pictures that come in must not move what is looked at.
  const followed = useRef<{ active: number | null; visible: readonly number[] }>(null);
  useLayoutEffect(() => {
    const last = followed.current;
    if (activeRow < 0 || (last?.active === active && last.visible === visible)) return;
    followed.current = { active, visible };
    virtual.scrollToIndex(activeRow, { align: 'auto' });
  }, [active, visible, activeRow, virtual]);

  const items = virtual.getVirtualItems();
  useLookingAt(items.flatMap((item) => rows[item.index]?.cells.map((cell) => cell.id) ?? []));

  return (
    <div
      ref={box}
      role="listbox"
      aria-label="Frames"
      aria-multiselectable="true"
      tabIndex={-1}
      className="relative h-full overflow-y-auto bg-stage outline-none"
    >
      <div style={{ height: virtual.getTotalSize() }}>
        {items.map((item) => {
          const row = rows[item.index];
          if (!row) return null;
          const top = row.headings.length ? HEADING : 0;
          return (
            <div
              key={item.key}
              className="absolute"
              style={{ left: EDGE, top: 0, transform: `translateY(${item.start}px)` }}
            >
              {row.headings.map((heading) => (
                <div
                  key={heading.group}
                  data-group={heading.group}
                  className="figures absolute flex gap-2.5 overflow-hidden pt-1 text-[13px] whitespace-nowrap text-on-stage"
                  style={{ left: heading.x, width: heading.width, height: HEADING }}
                >
                  {heading.rest ? (
                    <span>{heading.group + 1} continued</span>
                  ) : (
                    <GroupFacts number={heading.group + 1} {...sizes.get(heading.group)!} />
                  )}
                </div>
              ))}
              {row.cells.map((cell) => (
                <SheetCell
                  key={cell.id}
                  id={cell.id}
                  x={cell.x}
                  width={cell.width}
                  height={height}
                  top={top}
                  labels={labels}
                  onOpen={onOpen}
                />
              ))}
            </div>
          );
        })}
      </div>
    </div>
  );
}

interface GroupSpan {
  count: number;
  from: number | null;
  to: number | null;
}

function groupFacts(frames: readonly Frame[]): Map<number, GroupSpan> {
  const found = new Map<number, GroupSpan>();
  for (const { group, takenAt } of frames) {
    const one = found.get(group) ?? { count: 0, from: takenAt, to: takenAt };
    found.set(group, { count: one.count + 1, from: one.from, to: takenAt });
  }
  return found;
}

function GroupFacts({ number, count, from, to }: GroupSpan & { number: number }) {
  const seconds = from !== null && to !== null ? to - from : 0;
  const span =
    seconds < 60 ? `${Math.max(1, Math.round(seconds))} s` : `${Math.round(seconds / 60)} min`;
  return (
    <>
      <strong className="text-on-stage">{number}</strong>
      <span>{clock(from)}</span>
      {count > 1 && (
        <span>
          {counted(count, 'frame')} · {span}
        </span>
      )}
    </>
  );
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
