import { Trans } from '@lingui/react/macro';
import { useEffect, useRef, useState } from 'react';

import type { Beside, Label } from '../../api/client';
import { MarksOver } from '../../parts/marks';
import { useSize } from '../../parts/use-size';
import { KeptPreview } from '../../parts/picture';
import { lock, lookAt, NO_OFFSET, nudge, useCompare, type Offset } from '../../state/compare';
import { sizeOf, type Frame } from '../../state/frames';
import { useShoot } from '../../state/shoot';
import { useWheel } from '../frame/use-wheel';
import { fitted, pointAt, turnedPoint, uprightPoint, type Point } from '../frame/place';
import { focusWords, lookFor } from './placement';
import { useFine } from './stage';
import { Pictures } from './tile-picture';
import { useDrag } from './use-drag';
import { usePart } from './use-part';
import { zoomed, type Close } from '../../state/zoom';

const CAPTION_PX = 28;

/**
 * Two frames in one place, laid on each other by the subject: blinking, so that what changed moves,
 * or their difference. The active one and the one that was active before it.
 */
export function PairStage({
  ids,
  near,
  labels,
  onClose,
}: {
  ids: readonly number[];
  near: Close;
  labels: readonly Label[];
  onClose: (near: Close) => void;
}) {
  const area = useRef<HTMLDivElement>(null);
  const whole = useSize(area);
  const stage = { width: whole.width, height: Math.max(1, whole.height - CAPTION_PX) };
  const byId = useShoot((state) => state.byId);
  const active = useShoot((state) => state.active);
  const { way, rate, against, places, shift } = useCompare();
  const first = byId.get(active ?? -1);
  const second = byId.get(otherOf(ids, active, against) ?? -1);
  useAgainst(ids);
  useFine(true);
  const turn = useTurns(way === 'blink', rate);
  const missing = [first, second].some((frame) => frame && !places.has(frame.id));
  useEffect(() => {
    if (missing) void lock();
  }, [missing]);
  const size = (first && sizeOf(first)) ?? { width: 1500, height: 1000 };
  const ratio = window.devicePixelRatio || 1;
  const isNear = near > 0 && first?.picture === 2;
  const box = fitted(stage, size, ratio);
  const scale = isNear ? near / ratio : box.width / size.width;
  const place = places.get(first?.id ?? -1);
  const at = turnedPoint(place ?? { x: 0.5, y: 0.5 }, first?.turned ?? 0);
  // Where the part that is looked at lies on the stage.
  const spot: Point = isNear
    ? { x: stage.width / 2 - shift.x * scale, y: stage.height / 2 - shift.y * scale }
    : { x: box.left + at.x * box.width, y: box.top + at.y * box.height };
  const pointer = useDrag({
    moves: isNear,
    scale,
    onMove: (by, alone) => {
      if (!alone) useCompare.setState({ shift: { x: shift.x + by.x, y: shift.y + by.y } });
      else if (second) nudge(second.id, by);
    },
    onEnd: () => {
      if (first) lookAt({ frame: first.id, ...lookFor(first, place, shift) });
    },
    onClick: (event) => {
      if (!isNear && first) {
        const bounds = event.currentTarget.getBoundingClientRect();
        const point = pointAt(box, event.clientX - bounds.left, event.clientY - bounds.top);
        lookAt({ frame: first.id, ...uprightPoint(point, first.turned) });
      }
      onClose(isNear ? 0 : 1);
    },
  });
  useWheel(area, (factor, x, y) => {
    const next = zoomed(near, factor, (box.width / size.width) * ratio);
    if (!near && next && first)
      lookAt({ frame: first.id, ...uprightPoint(pointAt(box, x, y), first.turned) });
    if (next !== near) onClose(next);
  });
  if (!first || !second) return <div ref={area} className="min-w-0 flex-1" />;
  const shown = way === 'blink' ? (turn ? second : first) : first;

  return (
    <div ref={area} className="relative min-w-0 flex-1" data-testid="pair" data-way={way}>
      <div
        className={`absolute inset-x-0 top-0 touch-none overflow-hidden ${way === 'difference' ? 'bg-black' : 'bg-stage'}`}
        style={{
          height: stage.height,
          isolation: 'isolate',
          filter: way === 'difference' ? 'brightness(2.5)' : undefined,
          cursor: isNear ? 'grab' : 'zoom-in',
        }}
        {...pointer}
      >
        <Layer
          frame={first}
          place={place}
          spot={spot}
          scale={scale}
          near={isNear ? near : 0}
          stage={stage}
        />
        <Layer
          frame={second}
          place={places.get(second.id)}
          against={place}
          spot={spot}
          scale={scale}
          near={isNear ? near : 0}
          stage={stage}
          hidden={way === 'blink' && shown !== second}
          difference={way === 'difference'}
        />
        {way === 'blink' && <Marks frame={shown} labels={labels} />}
      </div>
      <div
        className="figures absolute inset-x-0 bottom-0 flex items-center gap-5 px-1 text-[13px] text-on-stage"
        style={{ height: CAPTION_PX }}
      >
        {[first, second].map((frame) => (
          <span
            key={frame.id}
            className={way === 'blink' && frame === shown ? 'font-bold' : 'opacity-80'}
          >
            {way === 'blink' && (frame === shown ? '● ' : '○ ')}
            {frame.name} {focusWords(places.get(frame.id))}
          </span>
        ))}
        {way === 'difference' && (
          <span>
            <Trans>the brighter, the more they differ</Trans>
          </span>
        )}
        {places.get(second.id)?.sure === false && (
          <strong>
            <Trans>not laid on each other: the part was not found</Trans>
          </strong>
        )}
      </div>
    </div>
  );
}

function Marks({ frame, labels }: { frame: Frame; labels: readonly Label[] }) {
  const mark = useShoot((state) => state.marks.get(frame.id));
  return (
    <div className="pointer-events-none absolute inset-0">
      {mark && <MarksOver mark={mark} labels={labels} linked={!!frame.parts} large />}
    </div>
  );
}

/** The frame that the active one is compared with: the one before it, else its neighbour. */
function otherOf(
  ids: readonly number[],
  active: number | null,
  against: number | null,
): number | undefined {
  if (against !== null && against !== active && ids.includes(against)) return against;
  const at = active === null ? -1 : ids.indexOf(active);
  return ids[at + 1] ?? ids[at - 1];
}

/** Remember which frame was the active one before. */
function useAgainst(ids: readonly number[]): void {
  useEffect(
    () =>
      useShoot.subscribe((now, before) => {
        if (now.active !== before.active && before.active !== null && ids.includes(before.active))
          useCompare.setState({ against: before.active });
      }),
    [ids],
  );
}

/** Whose turn it is: changes every `rate` ms; where motion is unwanted, only by the space bar. */
function useTurns(on: boolean, rate: number): boolean {
  const [turn, setTurn] = useState(false);
  useEffect(() => {
    if (!on) return;
    if (window.matchMedia('(prefers-reduced-motion: reduce)').matches) {
      const flip = (event: KeyboardEvent) => {
        if (event.key === ' ') setTurn((now) => !now);
      };
      window.addEventListener('keyup', flip);
      return () => window.removeEventListener('keyup', flip);
    }
    const timer = setInterval(() => setTurn((now) => !now), rate);
    return () => clearInterval(timer);
  }, [on, rate]);
  return turn;
}

function Layer({
  frame,
  place,
  against,
  spot,
  scale,
  near,
  stage,
  hidden = false,
  difference = false,
}: {
  frame: Frame;
  place: Beside | undefined;
  /** the place in the frame that it is laid on */
  against?: Beside | undefined;
  /** where the place lies on the stage, CSS px */
  spot: Offset;
  /** CSS px for a pixel of the frame that it is laid on */
  scale: number;
  near: Close;
  stage: { width: number; height: number };
  hidden?: boolean;
  difference?: boolean;
}) {
  const nudged = useCompare((state) => (against ? state.nudges.get(frame.id) : undefined));
  const size = sizeOf(frame) ?? { width: 1500, height: 1000 };
  const factor = scale / (against && place ? place.scale / against.scale : 1);
  const angle = against && place ? place.angle - against.angle : 0;
  const at = turnedPoint(place ?? { x: 0.5, y: 0.5 }, frame.turned);
  const { x, y } = nudged ?? NO_OFFSET;
  const width = size.width * factor;
  const height = size.height * factor;
  const centre = {
    x: at.x + (stage.width / 2 - spot.x) / width,
    y: at.y + (stage.height / 2 - spot.y) / height,
  };
  const { loaded: part, failed } = usePart(
    frame,
    centre,
    { width: (1.1 * stage.width) / factor, height: (1.1 * stage.height) / factor },
    near > 0,
  );
  return (
    <>
      <div
        className="absolute"
        style={{
          left: spot.x - at.x * width - x * factor,
          top: spot.y - at.y * height - y * factor,
          width,
          height,
          transform: angle ? `rotate(${-angle}deg)` : undefined,
          transformOrigin: `${100 * at.x}% ${100 * at.y}%`,
          visibility: hidden ? 'hidden' : undefined,
          mixBlendMode: difference ? 'difference' : undefined,
        }}
      >
        <Pictures frame={frame} near={near} part={near > 0 ? part : null} />
      </div>
      {near > 0 && failed && !hidden && <KeptPreview />}
    </>
  );
}
