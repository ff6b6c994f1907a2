import { t } from '@lingui/core/macro';

import { useRef } from 'react';

import { pictureUrl } from '../../api/client';
import { Outline } from '../../parts/outline';
import { KeptPreview, Turned } from '../../parts/picture';
import { NO_OFFSET, nudge, useCompare, type Offset } from '../../state/compare';
import { FAILED, sizeOf, type Frame } from '../../state/frames';
import { useOutline } from '../../state/outline';
import { pointAt, type Point } from '../frame/place';
import { useTouch } from '../frame/touch';
import { useWheel } from '../frame/use-wheel';
import { centreOf } from './placement';
import type { Tile } from './tiles';
import { useDrag } from './use-drag';
import { covers, usePart, type Loaded } from './use-part';
import { type Close, CLOSEST, DOUBLE_MS, FULL_FROM, PIXELS_FROM } from '../../state/zoom';

/** Closer by a factor, at a point of the frame as it lies on screen; `alone`: only this frame. */
export type OnZoom = (frame: Frame, factor: number, at: Point, alone: boolean) => void;
export type OnDrag = (frame: Frame, by: Offset, ended: boolean) => void;

/** The picture of a tile: fitted into it, or at a zoom around the part that is looked at. */
export function TilePicture({
  frame,
  box,
  near,
  closeBox,
  active,
  onActivate,
  onPoint,
  onDrag,
  onZoom,
}: {
  frame: Frame;
  box: Tile;
  near: Close;
  closeBox: Tile;
  active: boolean;
  onActivate: (id: number) => void;
  onPoint: (frame: Frame, point: Point | null) => void;
  onDrag: OnDrag;
  onZoom: OnZoom;
}) {
  const area = useRef<HTMLDivElement>(null);
  const clicked = useRef(-Infinity);
  const own = useCompare((state) => state.zooms.get(frame.id) ?? 1);
  const place = useCompare((state) => state.places.get(frame.id));
  const shift = useCompare((state) => state.shift);
  const nudged = useCompare((state) => state.nudges.get(frame.id) ?? NO_OFFSET);
  const outlined = useOutline((state) => state.on);
  const size = sizeOf(frame) ?? { width: 1500, height: 1000 };
  const ratio = window.devicePixelRatio || 1;
  const isNear = near > 0 && frame.picture === 2;
  const closeNow = Math.min(CLOSEST, near * own);
  // CSS px for a pixel of the picture
  const scale = (closeNow || 1) / ratio;
  const centre = centreOf(frame, place, shift, nudged);
  const seen = { width: closeBox.width / scale, height: closeBox.height / scale };
  const { loaded: part, failed } = usePart(
    frame,
    centre,
    seen,
    !!place && (!near || closeNow >= FULL_FROM),
  );
  const lies = isNear
    ? {
        left: box.width / 2 - centre.x * size.width * scale,
        top: box.height / 2 - centre.y * size.height * scale,
        width: size.width * scale,
        height: size.height * scale,
      }
    : { left: 0, top: 0, width: box.width, height: box.height };
  const lost = frame.state === FAILED || (frame.missing && frame.picture === 0);
  const pointer = useDrag({
    moves: isNear,
    scale,
    onMove: (by, alone) => {
      if (alone || useCompare.getState().alone) nudge(frame.id, by);
      else onDrag(frame, by, false);
    },
    onEnd: () => onDrag(frame, NO_OFFSET, true),
    onClick: (event) => {
      const again = event.timeStamp - clicked.current < DOUBLE_MS;
      clicked.current = event.timeStamp;
      if (!active) {
        onActivate(frame.id);
        // A double click looks close, whichever frame is the active one.
        clicked.current = -Infinity;
        return;
      }
      if (again) return;
      const bounds = event.currentTarget.getBoundingClientRect();
      onPoint(
        frame,
        isNear ? null : pointUnder(event.clientX - bounds.left, event.clientY - bounds.top),
      );
    },
  });
  const pointUnder = (x: number, y: number) =>
    pointAt(isNear ? lies : { left: 0, top: 0, width: box.width, height: box.height }, x, y);
  useWheel(area, (factor, x, y, event) => {
    if (frame.picture === 2) onZoom(frame, factor, pointUnder(x, y), event.altKey);
  });
  const touch = useTouch({
    near: true,
    onStep: () => undefined,
    onPinch: ({ factor, at }) => {
      const bounds = area.current!.getBoundingClientRect();
      if (frame.picture === 2)
        onZoom(frame, factor, pointUnder(at.x - bounds.left, at.y - bounds.top), false);
    },
  });
  const fine = !isNear || closeNow < FULL_FROM;
  const ready = fine || (part !== null && covers(part.part, frame, centre, seen));

  return (
    <div
      data-near={isNear ? near : 0}
      data-ready={ready}
      className={`absolute inset-0 touch-none ${isNear ? 'cursor-grab' : active ? 'cursor-zoom-in' : 'cursor-pointer'}`}
      ref={area}
      onPointerDown={(event) => {
        touch.down(event);
        pointer.onPointerDown(event);
      }}
      onPointerMove={(event) => {
        if (touch.move(event)) pointer.onPointerCancel();
        else pointer.onPointerMove(event);
      }}
      onPointerUp={(event) => {
        if (touch.up(event)) pointer.onPointerCancel();
        else pointer.onPointerUp(event);
      }}
      onPointerCancel={() => {
        touch.cancel();
        pointer.onPointerCancel();
      }}
    >
      {lost ? (
        <div className="flex h-full items-center justify-center p-3 text-center text-on-stage">
          {frame.missing ? t`The file is no longer in the folder.` : frame.notice}
        </div>
      ) : (
        <div className="absolute" style={lies}>
          <Pictures frame={frame} near={closeNow} part={isNear ? part : null}>
            {outlined && place && (
              <Outline
                x={place.x}
                y={place.y}
                width={(2 * place.radius) / (frame.width ?? 1)}
                height={(2 * place.radius) / (frame.height ?? 1)}
              />
            )}
          </Pictures>
        </div>
      )}
      {isNear && failed && !lost && <KeptPreview />}
    </div>
  );
}

/** A frame's picture in its positioned parent: the preview, and over it a part at full size. */
export function Pictures({
  frame,
  near,
  part,
  children,
}: {
  frame: Frame;
  near: Close;
  part: Loaded | null;
  children?: React.ReactNode;
}) {
  const whole = 'absolute inset-0 h-full w-full max-w-none';
  return (
    <Turned turned={frame.turned}>
      {frame.picture > 0 && (
        <img src={pictureUrl(frame, 'thumbnail')} alt="" draggable={false} className={whole} />
      )}
      {frame.picture === 2 && (
        <img
          src={pictureUrl(frame, 'preview')}
          alt={frame.name}
          draggable={false}
          decoding="async"
          className={whole}
        />
      )}
      {part && (
        <img
          src={part.url}
          alt=""
          draggable={false}
          decoding="sync"
          className="absolute max-w-none"
          style={{
            left: `${(100 * part.part.left) / frame.width!}%`,
            top: `${(100 * part.part.top) / frame.height!}%`,
            width: `${(100 * part.part.width) / frame.width!}%`,
            height: `${(100 * part.part.height) / frame.height!}%`,
            imageRendering: near >= PIXELS_FROM ? 'pixelated' : undefined,
          }}
        />
      )}
      {children}
    </Turned>
  );
}
