import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';

import { useRef } from 'react';
import { useShallow } from 'zustand/react/shallow';

import { pictureUrl, type Label } from '../../api/client';
import { EyeSign } from '../../parts/eye-sign';
import { FaceSigns } from '../../parts/face-sign';
import { MarksOver } from '../../parts/marks';
import { Outline } from '../../parts/outline';
import { KeptPreview, Turned } from '../../parts/picture';
import { NO_OFFSET, nudge, useCompare, type Offset } from '../../state/compare';
import { FAILED, markInWords, sizeOf, type Frame } from '../../state/frames';
import type { FaceSign } from '../../state/faces';
import { thresholdOf, useHints, type HintsState } from '../../state/hints';
import { useOutline } from '../../state/outline';
import { useShoot } from '../../state/shoot';
import { labelName } from '../../state/mark-words';
import { pointAt, type Point } from '../frame/place';
import { useTouch } from '../frame/touch';
import { useWheel } from '../frame/use-wheel';
import { filled } from '../frame/sharpness';
import { allSmile, centreOf, exposureWords, eyesOf, focusWords } from './placement';
import { CAPTION, type Tile } from './tiles';
import { useDrag } from './use-drag';
import { covers, usePart, type Loaded } from './use-part';
import {
  type Close,
  CLOSEST,
  closeWords,
  DOUBLE_MS,
  FULL_FROM,
  PIXELS_FROM,
} from '../../state/zoom';

/** What some face of a frame shows, as hints say it. */
const signsFor =
  (id: number) =>
  ({ byFrame }: Pick<HintsState, 'byFrame'>): FaceSign[] =>
    (byFrame.get(id) ?? []).flatMap(({ name }) =>
      name === 'gaze' || name === 'speech' ? [name] : [],
    );

const isHalfClosed =
  (id: number) =>
  ({ byFrame }: Pick<HintsState, 'byFrame'>): boolean =>
    (byFrame.get(id) ?? []).some(({ name }) => name === 'half_closed');

/** Of a letter, about: long words on the eyes leave less room for those on focus. */
const WORD_PX = 10;
/** Of the sign of what a face shows; narrower tiles show it without its words. */
const SIGN_PX = 26;
const WORDS_FROM_PX = 380;
/** Below this width, less what signs take, the bar goes: figure and word say the same. */
const BAR_FROM_PX = 280;
/** Below this width of a tile the eyes are told by their shape alone, and the figure has no room. */
const EYES_SAID_FROM_PX = 190;

/** Closer by a factor, at a point of the frame as it lies on screen; `alone`: only this frame. */
export type OnZoom = (frame: Frame, factor: number, at: Point, alone: boolean) => void;
export type OnDrag = (frame: Frame, by: Offset, ended: boolean) => void;

/**
 * One of the compared frames, fitted into its tile or at 100 % around the part that is looked at.
 */
export function FrameTile({
  id,
  place,
  number,
  box,
  near,
  closeBox,
  labels,
  carried,
  bare,
  onActivate,
  onPoint,
  onDrag,
  onZoom,
}: {
  id: number;
  /** its place among the tiles, from 1 */
  number: number;
  place?: string | undefined;
  box: Tile;
  near: Close;
  /** its tile when looking close, for which the part is fetched beforehand */
  closeBox: Tile;
  labels: readonly Label[];
  carried: boolean;
  bare: boolean;
  onActivate: (id: number) => void;
  /** a point of the frame, as it lies on screen, was clicked; null: it was close already */
  onPoint: (frame: Frame, point: Point | null) => void;
  onDrag: OnDrag;
  onZoom: OnZoom;
}) {
  const frame = useShoot((state) => state.byId.get(id));
  const mark = useShoot((state) => state.marks.get(id));
  const active = useShoot((state) => state.active === id);
  const beside = useCompare((state) => state.places.get(id));
  const nudged = useCompare((state) => state.nudges.get(id));
  const own = useCompare((state) => state.zooms.get(id) ?? 1);
  const softFrom = useHints(thresholdOf('soft_eyes')) ?? Infinity;
  const limits = useHints(thresholdOf('clipped'));
  const named = useHints(useShallow(signsFor(id)));
  const half = useHints(isHalfClosed(id));
  if (!frame || !mark) return null;
  const nameOf = (letter: string) => labelName(labels, letter);
  const exposure = exposureWords(beside, limits, box.width);
  const eyes = eyesOf(beside, softFrom, half);
  const brief = box.width < WORDS_FROM_PX;
  const signs = allSmile(beside) ? (['smile', ...named] as const) : named;
  const room =
    (eyes ? WORD_PX * Math.max(0, eyes.words.length - 6) : 0) +
    signs.length * (brief ? SIGN_PX : SIGN_PX + WORD_PX * 10);
  return (
    <figure
      data-tile={frame.name}
      data-shows={id}
      data-active={active}
      aria-label={`${place ? `${place}: ` : ''}${frame.name}, ${markInWords(mark, nameOf)}${active ? t`, active` : ''}`}
      className="absolute"
      style={{ left: box.left, top: box.top, width: box.width, height: box.height + CAPTION }}
    >
      <div
        className="relative overflow-hidden bg-black/20"
        style={{
          height: box.height,
          outline: active ? '2px solid var(--color-on-stage)' : undefined,
          outlineOffset: 1,
        }}
      >
        <TilePicture
          frame={frame}
          box={box}
          near={near}
          closeBox={closeBox}
          active={active}
          onActivate={onActivate}
          onPoint={onPoint}
          onDrag={onDrag}
          onZoom={onZoom}
        />
        <div className="pointer-events-none absolute inset-0">
          <MarksOver mark={mark} labels={labels} linked={!!frame.parts} large={box.height > 260} />
        </div>
        {near > 0 && beside && !beside.sure && (
          <span
            title={t`The part was not found in this frame: the same coordinates are shown. Drag with Alt to move it by itself.`}
            className="absolute top-1 left-1/2 -translate-x-1/2 rounded bg-black/75 px-2 text-[13px] whitespace-nowrap text-white"
          >
            <Trans>place not found</Trans>
          </span>
        )}
        {near > 0 && !beside && frame.picture === 2 && (
          <span className="absolute top-1 left-1/2 -translate-x-1/2 rounded bg-black/75 px-2 text-[13px] whitespace-nowrap text-white">
            <Trans>looking for the place …</Trans>
          </span>
        )}
      </div>
      <figcaption
        className={`figures flex h-6 items-center gap-x-2 overflow-hidden px-0.5 text-[13px] whitespace-nowrap text-on-stage ${bare ? 'invisible' : ''}`}
      >
        <span className={active ? 'font-bold' : ''}>
          {place ?? number} {frame.name}
        </span>
        {beside && beside.standing.state !== 'not found' && box.width - room >= BAR_FROM_PX && (
          <span
            className="h-1.5 w-8 shrink-0 rounded-sm bg-black/35"
            title={t`The longer the bar, the sharper at this part`}
          >
            <span
              className="block h-full rounded-sm bg-on-stage"
              style={{ width: `${100 * filled(beside.standing.blur)}%` }}
            />
          </span>
        )}
        <span
          className="truncate"
          data-standing={beside?.standing.state}
          title={focusWords(beside)}
        >
          {(!eyes || box.width >= EYES_SAID_FROM_PX) && focusWords(beside, box.width - room)}
        </span>
        {eyes && (
          <span
            data-eyes-say={eyes.words}
            title={t`Eyes ${eyes.words}`}
            className={`flex shrink-0 items-center gap-1 ${eyes.look === 'open' ? '' : 'font-bold'}`}
          >
            <EyeSign look={eyes.look} /> {box.width >= EYES_SAID_FROM_PX && eyes.words}
          </span>
        )}
        <FaceSigns signs={signs} brief={brief} />
        {exposure.length > 0 && (
          <span className="truncate" title={exposureWords(beside, limits).join(' · ')}>
            {exposure.join(' · ')}
          </span>
        )}
        {carried && (
          <span className="font-bold">
            <Trans>carried</Trans>
          </span>
        )}
        {near > 0 && own !== 1 && <span>{closeWords(Math.min(CLOSEST, near * own))} %</span>}
        {near > 0 && nudged && (nudged.x !== 0 || nudged.y !== 0) && (
          <span title={t`moved by itself; Backspace takes that back`}>
            <Trans>
              nudged {Math.round(nudged.x)}, {Math.round(nudged.y)}
            </Trans>
          </span>
        )}
      </figcaption>
    </figure>
  );
}

function TilePicture({
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
