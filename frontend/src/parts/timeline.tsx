import { useEffect, useMemo, useRef, useState } from 'react';

import { clock, ratioOf } from '../state/frames';
import { useShoot } from '../state/shoot';
import { Thumbnail } from './picture';
import { frameAt, timelineScale } from './timeline-scale';
import { useSize } from './use-size';

const WIDTH = 68;

/** The whole shoot to scale along the left edge: a map, a scroll bar, and the progress. */
export function Timeline({
  span,
  theme,
}: {
  span: readonly number[];
  /** drawn anew when it changes: the colours come from the style sheet */
  theme: string;
}) {
  const box = useRef<HTMLDivElement>(null);
  const canvas = useRef<HTMLCanvasElement>(null);
  const { height } = useSize(box);
  const [hover, setHover] = useState<{ id: number; y: number } | null>(null);
  const frames = useShoot((state) => state.frames);
  const visible = useShoot((state) => state.visible);
  const marksVersion = useShoot((state) => state.marksVersion);
  const active = useShoot((state) => state.active);
  const go = useShoot((state) => state.go);
  const scale = useMemo(() => timelineScale(frames, height), [frames, height]);

  const passing = useMemo(() => new Set(visible), [visible]);
  const colours = useRef<ReturnType<typeof coloursNow>>(null);
  useEffect(() => {
    colours.current = null;
  }, [theme]);

  useEffect(() => {
    const context = canvas.current?.getContext('2d');
    if (!context || !canvas.current || !height) return;
    const ratio = window.devicePixelRatio || 1;
    const [wide, high] = [Math.round(WIDTH * ratio), Math.round(height * ratio)];
    if (canvas.current.width !== wide) canvas.current.width = wide;
    if (canvas.current.height !== high) canvas.current.height = high;
    context.setTransform(ratio, 0, 0, ratio, 0, 0);
    context.clearRect(0, 0, WIDTH, height);
    colours.current ??= coloursNow();
    draw(context, scale, { visible: passing, active, span }, colours.current);
  }, [scale, height, passing, active, span, marksVersion, theme]);

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

  return (
    <nav aria-label="Timeline" className="relative w-[68px] shrink-0 border-r border-line bg-paper">
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
        <canvas ref={canvas} className="h-full w-full" aria-hidden="true" />
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
            {hovered.name} · {clock(hovered.takenAt)}
          </figcaption>
        </figure>
      )}
    </nav>
  );
}

function nearestVisible(
  frames: readonly { id: number }[],
  visible: readonly number[],
  id: number,
): number | undefined {
  const order = new Map(frames.map((frame, n) => [frame.id, n]));
  const wanted = order.get(id) ?? 0;
  const off = (one: number) => Math.abs((order.get(one) ?? 0) - wanted);
  return visible.length
    ? visible.reduce((best, one) => (off(one) < off(best) ? one : best))
    : undefined;
}

const COLOURS = ['line', 'quiet', 'ink', 'pick', 'reject', 'accent'] as const;

/** The colours of the theme, from the style sheet; reading them takes longer than drawing. */
function coloursNow(): Record<(typeof COLOURS)[number], string> {
  const style = getComputedStyle(document.documentElement);
  return Object.fromEntries(
    COLOURS.map((name) => [name, style.getPropertyValue(`--color-${name}`)]),
  ) as Record<(typeof COLOURS)[number], string>;
}

function draw(
  context: CanvasRenderingContext2D,
  { ticks, blocks, pauses }: ReturnType<typeof timelineScale>,
  seen: { visible: ReadonlySet<number>; active: number | null; span: readonly number[] },
  colours: Record<(typeof COLOURS)[number], string>,
): void {
  const { line, quiet, ink, pick, reject, accent } = colours;
  const unit = ticks.length > 1 ? Math.min(...pairs(ticks)) : 8;
  const thick = Math.max(1, Math.min(2.5, unit * 0.5));
  context.fillStyle = line;
  context.globalAlpha = 0.55;
  for (const { top, bottom } of blocks) {
    context.fillRect(12, top - unit / 2, 44, bottom - top + Math.max(2, unit));
  }
  context.globalAlpha = 1;
  const { marks } = useShoot.getState();
  for (const { id, y } of ticks) {
    const decision = marks.get(id)?.decision;
    context.globalAlpha = seen.visible.has(id) ? 1 : 0.3;
    if (decision === 'pick') {
      // The longest line, with a knob at its end.
      context.fillStyle = pick;
      context.fillRect(14, y - thick / 2, 40, thick);
      context.beginPath();
      context.arc(54, y, Math.max(1.5, thick), 0, 7);
      context.fill();
    } else if (decision === 'reject') {
      // A short, broken line.
      context.fillStyle = reject;
      for (let x = 14; x < 32; x += 5) context.fillRect(x, y - thick / 2, 3, thick);
    } else {
      context.fillStyle = quiet;
      context.fillRect(14, y - thick / 2, 26, thick);
    }
  }
  context.globalAlpha = 1;
  context.fillStyle = ink;
  context.font = '11px "Atkinson Hyperlegible Next Variable"';
  for (const pause of pauses) {
    context.fillText(clock(pause.until).slice(0, 5), 20, pause.y + 13);
    if (pause.length) context.fillRect(12, pause.y + 8.5, 5, 1);
  }
  const place = new Map(ticks.map((tick) => [tick.id, tick.y]));
  const ys = seen.span.map((id) => place.get(id)).filter((y) => y !== undefined);
  if (ys.length) {
    const [top, bottom] = [Math.min(...ys) - 4, Math.max(...ys) + 4];
    context.strokeStyle = accent;
    context.lineWidth = 2;
    for (const [x, way] of [
      [4, 1],
      [64, -1],
    ] as const) {
      context.beginPath();
      context.moveTo(x + 4 * way, top);
      context.lineTo(x, top);
      context.lineTo(x, bottom);
      context.lineTo(x + 4 * way, bottom);
      context.stroke();
    }
  }
  const y = seen.active === null ? undefined : place.get(seen.active);
  if (y !== undefined) {
    context.fillStyle = accent;
    context.beginPath();
    context.moveTo(6, y - 4);
    context.lineTo(12, y);
    context.lineTo(6, y + 4);
    context.fill();
  }
}

function pairs(ticks: readonly { y: number }[]): number[] {
  return ticks.slice(1).map((tick, n) => tick.y - ticks[n]!.y);
}
