import { t } from '@lingui/core/macro';
import { memo, useDeferredValue, useEffect, useMemo, useRef, useState } from 'react';

import { areOfSeveralDays, dayOf, dayWords, ratioOf, takenInWords } from '../state/frames';
import { useShoot } from '../state/shoot';
import { Thumbnail } from './picture';
import { cleared, coloursNow, drawPlace, drawShoot, type Colours } from './timeline-drawing';
import { frameAt, timelineScale, type Scale } from './timeline-scale';
import { useSize } from './use-size';

/** The whole shoot to scale along the left edge: a map, a scroll bar, and the progress. */
export function Timeline({
  theme,
  bracketed,
}: {
  /** drawn anew when it changes: the colours come from the style sheet */
  theme: string;
  /** whether the active frame's group is bracketed */
  bracketed: boolean;
}) {
  const box = useRef<HTMLDivElement>(null);
  const { height } = useSize(box);
  const [hover, setHover] = useState<{ id: number; y: number } | null>(null);
  // The frames themselves are drawn first: while groups follow the slider, this follows them.
  const frames = useDeferredValue(useShoot((state) => state.frames));
  const visible = useShoot((state) => state.visible);
  const go = useShoot((state) => state.go);
  const scale = useMemo(() => timelineScale(frames, height), [frames, height]);

  const at = (event: React.PointerEvent): number | undefined => {
    const top = event.currentTarget.getBoundingClientRect().top;
    return frameAt(scale, event.clientY - top);
  };
  const travel = (event: React.PointerEvent) => {
    const id = at(event);
    if (id === undefined) return;
    if (visible.includes(id)) go(id);
    else go(nearestVisible(frames, visible, id));
  };
  const hovered = useShoot((state) => (hover ? state.byId.get(hover.id) : undefined));

  const several = useMemo(() => areOfSeveralDays(frames), [frames]);
  const day = hovered && dayOf(hovered);

  return (
    <nav
      aria-label={t`Timeline`}
      className="relative w-[68px] shrink-0 border-r border-line bg-paper max-[600px]:hidden"
    >
      <div
        ref={box}
        className="absolute inset-0 cursor-pointer touch-none"
        onPointerDown={(event) => {
          event.currentTarget.setPointerCapture(event.pointerId);
          travel(event);
        }}
        onPointerMove={(event) => {
          if (event.buttons) travel(event);
          const id = at(event);
          const { top } = event.currentTarget.getBoundingClientRect();
          setHover(id === undefined ? null : { id, y: event.clientY - top });
        }}
        onPointerLeave={() => setHover(null)}
      >
        <Whole scale={scale} height={height} theme={theme} />
        {bracketed && <Place scale={scale} height={height} theme={theme} />}
      </div>
      {hover && hovered && hovered.picture > 0 && (
        <figure
          className="pointer-events-none absolute left-[72px] z-20 rounded border border-line bg-paper p-1 shadow-lg"
          style={{ top: Math.max(4, Math.min(hover.y - 60, height - 150)) }}
        >
          <div
            className="relative"
            style={{ width: Math.min(176, 112 * ratioOf(hovered)), aspectRatio: ratioOf(hovered) }}
          >
            <Thumbnail frame={hovered} />
          </div>
          <figcaption className="figures text-xs">
            {[hovered.name, several && day !== undefined && dayWords(day), takenInWords(hovered)]
              .filter(Boolean)
              .join(' · ')}
          </figcaption>
        </figure>
      )}
    </nav>
  );
}

function useColours(theme: string): () => Colours {
  const known = useRef<{ theme: string; colours: Colours }>(null);
  return () => {
    if (known.current?.theme !== theme) known.current = { theme, colours: coloursNow() };
    return known.current.colours;
  };
}

interface Layer {
  scale: Scale;
  height: number;
  theme: string;
}

/** Groups and marks: drawn anew when a mark or the filter changes, not while stepping. */
const Whole = memo(function Whole({ scale, height, theme }: Layer) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const visible = useShoot((state) => state.visible);
  const marksVersion = useShoot((state) => state.marksVersion);
  const passing = useMemo(() => new Set(visible), [visible]);
  const colours = useColours(theme);
  useEffect(() => {
    if (!canvas.current || !height) return;
    const context = cleared(canvas.current, height);
    drawShoot(context, scale, useShoot.getState().marks, passing, colours());
  });
  return (
    <canvas
      ref={canvas}
      className="absolute h-full w-full"
      aria-hidden="true"
      data-version={marksVersion}
    />
  );
});

/** The active frame, and brackets around its group. */
function Place({ scale, height, theme }: Layer) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const active = useShoot((state) => state.active);
  const group = useShoot((state) => state.byId.get(state.active ?? -1)?.group);
  const heights = useMemo(() => new Map(scale.ticks.map(({ id, y }) => [id, y] as const)), [scale]);
  const block = useMemo(() => scale.blocks.find((block) => block.group === group), [scale, group]);
  const colours = useColours(theme);
  useEffect(() => {
    if (!canvas.current || !height) return;
    const context = cleared(canvas.current, height);
    const y = heights.get(active ?? -1);
    if (y !== undefined)
      drawPlace(context, [block?.top ?? y, block?.bottom ?? y], y, colours().accent);
  });
  return <canvas ref={canvas} className="absolute h-full w-full" aria-hidden="true" />;
}

function nearestVisible(
  frames: readonly { id: number }[],
  visible: readonly number[],
  id: number,
): number | undefined {
  const order = new Map(frames.map((frame, n) => [frame.id, n]));
  const wanted = order.get(id) ?? 0;
  const off = (frame: number) => Math.abs((order.get(frame) ?? 0) - wanted);
  return visible.length
    ? visible.reduce((best, frame) => (off(frame) < off(best) ? frame : best))
    : undefined;
}
