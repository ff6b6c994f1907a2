import { t } from '@lingui/core/macro';
import { useQuery } from '@tanstack/react-query';
import { useEffect, useLayoutEffect, useRef, useState, useSyncExternalStore } from 'react';

import { api, ask, pictureUrl, type Facts } from '../../api/client';
import type { Over } from '../../commands/stage';
import { FocusDot, Outline } from '../../parts/outline';
import { KeptPreview, Turned } from '../../parts/picture';
import { isFullReady, onPrepared, preparedPreview } from '../../parts/prepared';
import { useSize } from '../../parts/use-size';
import { FAILED, sizeOf, type Frame } from '../../state/frames';
import {
  DOUBLE_MS,
  FULL_FROM,
  PIXELS_FROM,
  stageFit,
  stageSize,
  zoomed,
  type Close,
} from '../../state/zoom';
import { useOutline } from '../../state/outline';
import { isLongPress } from '../side/use-drag';
import { FocusOver } from './focus-over';
import { close, fitted, pointAt, type Box, type Point } from './place';
import { HistogramOver, PatternOver, useTones } from './tones-over';
import { useFacts } from './use-facts';
import { useTouch } from './touch';
import { drawnSize, usePrepared } from './use-prepared';
import { useWheel } from './use-wheel';
import { useLooked } from './use-subject';

const GLASS_PX = 260;

/** The picture itself: the small one at once where the large one isn't decoded yet. */
export function Photograph({
  frame,
  over,
  close: near,
  glassScale,
  point,
  onPoint,
  onClose,
  onStep,
  loaded,
  onLoaded,
  failed,
  onFailed,
  children,
}: {
  frame: Frame;
  over: ReadonlySet<Over>;
  close: Close;
  glassScale: 1 | 2;
  point: Point;
  onPoint: (point: Point) => void;
  onClose: (close: Close) => void;
  onStep: (way: 1 | -1) => void;
  loaded: string;
  onLoaded: (url: string) => void;
  /** the address of a picture at full size that could not be read */
  failed: string;
  onFailed: (url: string) => void;
  children: React.ReactNode;
}) {
  const area = useRef<HTMLDivElement>(null);
  const stage = useSize(area);
  const drag = useRef<{
    x: number;
    y: number;
    point: Point;
    moved: boolean;
    since: number;
  } | null>(null);
  const [pointer, setPointer] = useState<{ x: number; y: number } | null>(null);
  const outlined = useOutline((state) => state.on);
  const clicked = useRef(-Infinity);

  const size = sizeOf(frame) ?? { width: 1500, height: 1000 };
  const ratio = window.devicePixelRatio || 1;
  const isNear = near > 0 && frame.picture === 2;
  const box: Box = isNear ? close(stage, size, point, ratio / near) : fitted(stage, size, ratio);
  const wantsFull = isNear && near >= FULL_FROM;
  const url = pictureUrl(frame, wantsFull ? 'full' : 'preview');
  const style = { left: box.left, top: box.top, width: box.width, height: box.height };
  const unreadable = frame.state === FAILED || (frame.missing && frame.picture === 0);
  const drawn = drawnSize(frame, stage);
  const bitmap = useSyncExternalStore(onPrepared, () =>
    isNear ? null : preparedPreview(url, drawn),
  );
  const ready = wantsFull ? loaded === url || isFullReady(url) : !isNear && bitmap !== null;
  usePrepared(stage, near >= FULL_FROM);
  const fit = (fitted(stage, size, ratio).width / size.width) * ratio;
  useEffect(() => {
    if (fit > 0) stageFit.current = fit;
    if (stage.height > 0) stageSize.current = { height: stage.height };
  }, [fit, stage.height]);
  // Closer around a place on the stage, which stays under the pointer.
  const zoom = (factor: number, x: number, y: number, by = { x: 0, y: 0 }) => {
    if (frame.picture !== 2) return;
    const next = zoomed(near, factor, fit);
    if (next > 0) {
      const at = pointAt(box, x, y);
      const scale = next / ratio;
      onPoint({
        x: within(at.x - (x + by.x - stage.width / 2) / (size.width * scale)),
        y: within(at.y - (y + by.y - stage.height / 2) / (size.height * scale)),
      });
    }
    if (next !== near) onClose(next);
  };
  useWheel(area, zoom);
  const touch = useTouch({
    near: near > 0,
    onStep,
    onPinch: ({ factor, at, from }) => {
      const bounds = area.current!.getBoundingClientRect();
      zoom(factor, from.x - bounds.left, from.y - bounds.top, {
        x: at.x - from.x,
        y: at.y - from.y,
      });
    },
  });
  const glass = over.has('glass') && !isNear && !unreadable && frame.picture === 2;
  const facts = useFacts(frame, outlined || over.has('clipped') || over.has('histogram'));
  const focus = outlined && facts ? focusOf(facts) : undefined;
  const tones = useTones(
    frame,
    {
      clipped: over.has('clipped'),
      edges: over.has('edges'),
      histogram: over.has('histogram'),
    },
    facts,
  );
  const toPoint = (event: React.PointerEvent) => {
    const bounds = event.currentTarget.getBoundingClientRect();
    return pointAt(box, event.clientX - bounds.left, event.clientY - bounds.top);
  };

  return (
    <div
      ref={area}
      data-testid="photograph"
      data-close={isNear}
      data-scale={isNear ? near : 0}
      className={`absolute inset-0 touch-none ${isNear ? 'cursor-grab' : glass ? 'cursor-none' : 'cursor-zoom-in'}`}
      onPointerDown={(event) => {
        if (event.button !== 0) return;
        event.currentTarget.setPointerCapture(event.pointerId);
        touch.down(event);
        const { clientX: x, clientY: y, timeStamp: since } = event;
        drag.current = { x, y, point, moved: false, since };
      }}
      onPointerMove={(event) => {
        const bounds = event.currentTarget.getBoundingClientRect();
        if (event.pointerType !== 'touch')
          setPointer({ x: event.clientX - bounds.left, y: event.clientY - bounds.top });
        if (touch.move(event)) {
          drag.current = null;
          return;
        }
        const from = drag.current;
        if (!from) return;
        const dx = event.clientX - from.x;
        const dy = event.clientY - from.y;
        if (Math.hypot(dx, dy) > 4) from.moved = true;
        if (from.moved && isNear)
          onPoint(
            pointAt(
              { left: 0, top: 0, width: box.width, height: box.height },
              from.point.x * box.width - dx,
              from.point.y * box.height - dy,
            ),
          );
      }}
      onPointerLeave={() => setPointer(null)}
      onPointerUp={(event) => {
        const from = drag.current;
        drag.current = null;
        if (touch.up(event) || !from || from.moved || isLongPress(event, from.since)) return;
        const again = event.timeStamp - clicked.current < DOUBLE_MS;
        clicked.current = event.timeStamp;
        if (again) return;
        if (!isNear) onPoint(toPoint(event));
        onClose(isNear ? 0 : 1);
      }}
      onPointerCancel={() => {
        drag.current = null;
        touch.cancel();
      }}
    >
      {unreadable ? (
        <div className="flex h-full flex-col items-center justify-center gap-2 text-on-stage">
          <strong className="text-lg">{frame.name}</strong>
          <span className="max-w-md text-center">
            {frame.missing
              ? t`The file is no longer in the folder. Its marks are kept.`
              : frame.notice}
          </span>
        </div>
      ) : (
        <div className="absolute" style={style}>
          <Turned turned={frame.turned}>
            {!ready && (
              <img
                src={pictureUrl(frame, isNear ? 'preview' : 'thumbnail')}
                alt=""
                draggable={false}
                className="absolute inset-0 h-full w-full max-w-none"
              />
            )}
            {wantsFull && (
              <img
                key={url}
                src={url}
                alt={frame.name}
                draggable={false}
                decoding={ready ? 'sync' : 'async'}
                onLoad={() => {
                  onLoaded(url);
                  onFailed('');
                }}
                onError={() => onFailed(url)}
                data-ready={ready}
                className="absolute inset-0 h-full w-full max-w-none"
                style={{
                  visibility: ready ? 'visible' : 'hidden',
                  imageRendering: near >= PIXELS_FROM ? 'pixelated' : undefined,
                }}
              />
            )}
            {bitmap && <Drawn bitmap={bitmap} name={frame.name} />}
            {over.has('clipped') && <PatternOver bitmap={tones?.clipped} name={t`clipped`} />}
            {over.has('edges') && <PatternOver bitmap={tones?.edges} name={t`edges`} />}
            {outlined && <MeasuredOver frame={frame} />}
            {focus && <FocusDot {...focus} />}
            {over.has('sharp') && (
              <FocusOver frame={frame} shown={(frame.turned % 2 ? box.height : box.width) || 1} />
            )}
          </Turned>
        </div>
      )}
      {isNear ? (
        children
      ) : (
        <div className="pointer-events-none absolute" style={style}>
          {children}
        </div>
      )}
      {glass && pointer && (
        <Glass frame={frame} box={box} pointer={pointer} scale={glassScale / ratio} />
      )}
      {over.has('histogram') && !unreadable && (
        <HistogramOver tones={tones?.histogram} facts={facts} />
      )}
      <Says over={over} focus={focus} error={tones?.error} near={isNear} />
      {wantsFull && failed === url && <KeptPreview />}
    </div>
  );
}

const within = (value: number) => Math.min(1, Math.max(0, value));

/** Where the camera says that it focused, 0…1 of the upright picture; null where it doesn't say. */
function focusOf({ focus_x: x, focus_y: y }: Facts): Point | null {
  return x === null || y === null ? null : { x, y };
}

/** Where the blur of this frame was measured. */
function MeasuredOver({ frame }: { frame: Frame }) {
  const measured = useLooked((state) => state.measured.get(frame.id));
  const { data: matters } = useQuery({
    queryKey: ['matters', frame.id, frame.key, frame.blur],
    queryFn: () =>
      ask(api.GET('/api/frames/{frame}/matters', { params: { path: { frame: frame.id } } })),
    enabled: !measured,
    staleTime: Infinity,
  });
  const at = measured ?? matters;
  const width = frame.width ?? 1500;
  const height = frame.height ?? 1000;
  if (!at?.radius) return null;
  return (
    <Outline x={at.x} y={at.y} width={(2 * at.radius) / width} height={(2 * at.radius) / height} />
  );
}

/** A prepared preview, pixel by pixel. */
function Drawn({ bitmap, name }: { bitmap: ImageBitmap; name: string }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  // Before the next display refresh.
  useLayoutEffect(() => {
    const element = canvas.current;
    // One that was let go meanwhile has no size, and can't be drawn.
    if (!element || !bitmap.width) return;
    if (element.width !== bitmap.width) element.width = bitmap.width;
    if (element.height !== bitmap.height) element.height = bitmap.height;
    element.getContext('2d', { alpha: false })?.drawImage(bitmap, 0, 0);
  }, [bitmap]);
  return (
    <canvas
      ref={canvas}
      role="img"
      aria-label={name}
      data-ready="true"
      className="absolute inset-0 h-full w-full max-w-none"
    />
  );
}

/** What the patterns mean that lie over the photograph. */
function Says({
  over,
  focus,
  error,
  near,
}: {
  over: ReadonlySet<Over>;
  /** the camera's focus point, if that is drawn; null where the camera doesn't say */
  focus: Point | null | undefined;
  error: string | undefined;
  near: boolean;
}) {
  const lines = [
    ...(over.has('sharp') ? [t`the larger a square, the sharper`] : []),
    ...(over.has('edges') ? [t`yellow: edges in focus`] : []),
    ...(over.has('clipped') ? [t`stripes: clipped highlights, dots: clipped shadows`] : []),
    ...(focus ? [t`dot: the camera focused here`] : []),
    ...(focus === null ? [t`the camera doesn’t say where it focused`] : []),
    ...(near && (over.has('edges') || over.has('clipped')) ? [t`(of the preview)`] : []),
    ...(error ? [error] : []),
  ];
  if (!lines.length) return null;
  return (
    <p
      role="note"
      className="pointer-events-none absolute bottom-10 left-1/2 -translate-x-1/2 rounded bg-black/70 px-2.5 py-1 text-[13px] whitespace-nowrap text-white"
    >
      {lines.join(' · ')}
    </p>
  );
}

/** A round part of the frame at 100 or 200 %, under the pointer. */
function Glass({
  frame,
  box,
  pointer,
  scale,
}: {
  frame: Frame;
  box: Box;
  pointer: { x: number; y: number };
  /** CSS px for a pixel of the picture */
  scale: number;
}) {
  const size = sizeOf(frame) ?? { width: 1500, height: 1000 };
  const at = pointAt(box, pointer.x, pointer.y);
  const width = size.width * scale;
  const height = size.height * scale;
  return (
    <div
      data-testid="glass"
      aria-hidden="true"
      className="pointer-events-none absolute z-10 overflow-hidden rounded-full bg-stage outline-2 outline-white ring-3 ring-black/60"
      style={{
        width: GLASS_PX,
        height: GLASS_PX,
        left: pointer.x - GLASS_PX / 2,
        top: pointer.y - GLASS_PX / 2,
      }}
    >
      <div
        className="absolute"
        style={{
          width,
          height,
          left: GLASS_PX / 2 - at.x * width,
          top: GLASS_PX / 2 - at.y * height,
        }}
      >
        <Turned turned={frame.turned}>
          <img
            src={pictureUrl(frame, 'full')}
            alt=""
            draggable={false}
            className="absolute inset-0 h-full w-full max-w-none"
          />
        </Turned>
      </div>
    </div>
  );
}
