import { useQuery } from '@tanstack/react-query';
import { useEffect, useRef, useState } from 'react';

import { api, ask, pictureUrl, type Facts, type Label } from '../../api/client';
import { MarksOver } from '../../parts/marks';
import { shutter } from '../../parts/numbers';
import { isReady, prepare } from '../../parts/prepared';
import { useSize } from '../../parts/use-size';
import { FAILED, type Frame } from '../../state/frames';
import { useShoot } from '../../state/shoot';
import { FocusOver } from './focus-over';
import { Ladder } from './ladder';
import { close, fitted, pointAt, type Box, type Point } from './place';

const HOLD_MS = 300;

/** One frame, as large as it can be, with its group in the ladder at the right. */
export function FrameView({
  labels,
  facts,
  bare,
  sharp,
  looksClose,
  onLookClose,
}: {
  labels: readonly Label[];
  facts: boolean;
  bare: boolean;
  sharp: boolean;
  looksClose: boolean;
  onLookClose: (on: boolean) => void;
}) {
  const active = useShoot((state) => state.active);
  const frame = useShoot((state) => (active === null ? undefined : state.byId.get(active)));
  const mark = useShoot((state) => (active === null ? undefined : state.marks.get(active)));
  const [point, setPoint] = useState<Point>({ x: 0.5, y: 0.5 });
  const [loaded, setLoaded] = useState('');
  usePrepared(active);
  useHeldKey(looksClose, onLookClose);

  if (!frame || !mark) return <div className="h-full bg-stage" />;
  return (
    <div className="flex h-full bg-stage">
      <div className={`relative min-w-0 flex-1 ${bare ? '' : 'p-3'}`}>
        <div className="relative h-full w-full overflow-hidden">
          <Photograph
            frame={frame}
            sharp={sharp}
            looksClose={looksClose}
            point={point}
            onPoint={setPoint}
            onLookClose={onLookClose}
            loaded={loaded}
            onLoaded={setLoaded}
          >
            <MarksOver mark={mark} labels={labels} large />
          </Photograph>
          {facts && !bare && (
            <FactsOver
              frame={frame}
              looksClose={looksClose}
              closeReady={loaded === pictureUrl(frame, 'full')}
            />
          )}
        </div>
      </div>
      {!bare && <Ladder labels={labels} />}
    </div>
  );
}

/** The picture itself: the small one at once where the large one isn't decoded yet. */
function Photograph({
  frame,
  sharp,
  looksClose,
  point,
  onPoint,
  onLookClose,
  loaded,
  onLoaded,
  children,
}: {
  frame: Frame;
  sharp: boolean;
  looksClose: boolean;
  point: Point;
  onPoint: (point: Point) => void;
  onLookClose: (on: boolean) => void;
  loaded: string;
  onLoaded: (url: string) => void;
  children: React.ReactNode;
}) {
  const area = useRef<HTMLDivElement>(null);
  const stage = useSize(area);
  const drag = useRef<{ x: number; y: number; point: Point; moved: boolean } | null>(null);

  const size = { width: frame.width ?? 1500, height: frame.height ?? 1000 };
  const ratio = window.devicePixelRatio || 1;
  const near = looksClose && frame.picture === 2;
  const box: Box = near ? close(stage, size, point, ratio) : fitted(stage, size, ratio);
  const url = pictureUrl(frame, near ? 'full' : 'preview');
  const style = { left: box.left, top: box.top, width: box.width, height: box.height };
  const unreadable = frame.state === FAILED || (frame.missing && frame.picture === 0);
  const ready = loaded === url || isReady(url);

  return (
    <div
      ref={area}
      data-testid="photograph"
      data-close={near}
      className={`absolute inset-0 ${near ? 'cursor-grab' : 'cursor-zoom-in'}`}
      onPointerDown={(event) => {
        event.currentTarget.setPointerCapture(event.pointerId);
        drag.current = { x: event.clientX, y: event.clientY, point, moved: false };
      }}
      onPointerMove={(event) => {
        const from = drag.current;
        if (!from || !near) return;
        const dx = event.clientX - from.x;
        const dy = event.clientY - from.y;
        if (Math.hypot(dx, dy) > 4) from.moved = true;
        if (from.moved)
          onPoint(
            pointAt(
              { left: 0, top: 0, width: box.width, height: box.height },
              from.point.x * box.width - dx,
              from.point.y * box.height - dy,
            ),
          );
      }}
      onPointerUp={(event) => {
        const from = drag.current;
        drag.current = null;
        if (!from || from.moved) return;
        const rect = event.currentTarget.getBoundingClientRect();
        if (!near) onPoint(pointAt(box, event.clientX - rect.left, event.clientY - rect.top));
        onLookClose(!looksClose);
      }}
    >
      {unreadable ? (
        <div className="flex h-full flex-col items-center justify-center gap-2 text-on-stage">
          <strong className="text-lg">{frame.name}</strong>
          <span className="max-w-md text-center">
            {frame.missing
              ? 'The file is no longer in the folder. Its marks are kept.'
              : frame.notice}
          </span>
        </div>
      ) : (
        <>
          {!ready && (
            <img
              src={pictureUrl(frame, near ? 'preview' : 'thumbnail')}
              alt=""
              draggable={false}
              className="absolute max-w-none"
              style={style}
            />
          )}
          <img
            key={url}
            src={url}
            alt={frame.name}
            draggable={false}
            decoding={ready ? 'sync' : 'async'}
            onLoad={() => onLoaded(url)}
            data-ready={ready}
            className="absolute max-w-none"
            style={{ ...style, visibility: ready ? 'visible' : 'hidden' }}
          />
        </>
      )}
      {sharp && !unreadable && <FocusOver frame={frame} box={box} />}
      {near ? (
        children
      ) : (
        <div className="pointer-events-none absolute" style={style}>
          {children}
        </div>
      )}
    </div>
  );
}

/** Decode the neighbours ahead, more of them in the direction of travel. */
function usePrepared(active: number | null): void {
  const last = useRef({ at: 0, way: 1 });
  const visible = useShoot((state) => state.visible);
  useEffect(() => {
    if (active === null) return;
    const at = visible.indexOf(active);
    if (at !== last.current.at) last.current = { at, way: at > last.current.at ? 1 : -1 };
    const { way } = last.current;
    const { byId } = useShoot.getState();
    for (const by of [0, way, 2 * way, -way, 3 * way, 4 * way, -2 * way]) {
      const frame = byId.get(visible[at + by] ?? -1);
      if (frame?.picture === 2) prepare(pictureUrl(frame, 'preview'));
    }
  }, [active, visible]);
}

/** Looking close with the key held down is a glance: it ends when the key is let go. */
function useHeldKey(looksClose: boolean, onLookClose: (on: boolean) => void): void {
  const since = useRef(0);
  useEffect(() => {
    const down = (event: KeyboardEvent) => {
      if (event.key.toUpperCase() === 'D' && !event.repeat) since.current = event.timeStamp;
    };
    const up = (event: KeyboardEvent) => {
      const held = event.timeStamp - since.current > HOLD_MS;
      if (event.key.toUpperCase() === 'D' && held && looksClose) onLookClose(false);
    };
    window.addEventListener('keydown', down);
    window.addEventListener('keyup', up);
    return () => {
      window.removeEventListener('keydown', down);
      window.removeEventListener('keyup', up);
    };
  }, [looksClose, onLookClose]);
}

/** The facts of the exposure over the upper left corner. */
function FactsOver({
  frame,
  looksClose,
  closeReady,
}: {
  frame: Frame;
  looksClose: boolean;
  closeReady: boolean;
}) {
  const settled = useSettled(frame.id, 90);
  const { data } = useQuery({
    queryKey: ['facts', settled, frame.key],
    queryFn: () => ask(api.GET('/api/frames/{frame}', { params: { path: { frame: settled } } })),
    placeholderData: (before) => before,
    staleTime: Infinity,
  });
  const known = data?.id === frame.id ? data : undefined;
  const parts = known
    ? [
        known.shutter_s ? shutter(known.shutter_s) : '',
        known.aperture ? `f/${Number(known.aperture.toFixed(1))}` : '',
        known.iso ? `ISO ${known.iso}` : '',
        known.focal_mm ? `${Number(known.focal_mm.toFixed(1))} mm` : '',
        known.flash ? 'flash' : '',
      ].filter(Boolean)
    : [];
  return (
    <div className="figures pointer-events-none absolute top-2 left-2 max-w-[70%] rounded bg-black/70 px-2.5 py-1 text-[13px] text-white">
      <div className="flex flex-wrap gap-x-3">
        <strong>{frame.name}</strong>
        {parts.map((part) => (
          <span key={part}>{part}</span>
        ))}
        {looksClose && <span>100 %</span>}
        {frame.kind.includes('raw') && <span>{frame.kind}</span>}
        {known && <FromWhere facts={known} looksClose={looksClose} closeReady={closeReady} />}
      </div>
      {frame.notice && <div className="text-amber-200">{frame.notice}</div>}
    </div>
  );
}

/** Of a raw frame: whether its own preview is on screen, or what was developed. */
function FromWhere({
  facts,
  looksClose,
  closeReady,
}: {
  facts: Facts;
  looksClose: boolean;
  closeReady: boolean;
}) {
  const from = looksClose && closeReady ? facts.close_from : facts.shown_from;
  const words = { file: '', embedded: 'its own preview', developed: 'developed at half size' }[
    from
  ];
  const waits = looksClose && !closeReady && facts.close_from === 'developed';
  if (!words) return null;
  return (
    <span>
      {words}
      {waits && ', developing …'}
    </span>
  );
}

/** A value that has stayed the same for `ms`: flying past frames asks for nothing. */
function useSettled<T>(value: T, ms: number): T {
  const [settled, setSettled] = useState(value);
  useEffect(() => {
    const timer = setTimeout(() => setSettled(value), ms);
    return () => clearTimeout(timer);
  }, [value, ms]);
  return settled;
}
