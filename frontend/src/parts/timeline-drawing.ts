/** How the timeline is drawn: marks told by the length, the breaks and the ends of lines. */
import type { Decision } from '../api/client';
import { clock, dayWords, type Mark } from '../state/frames';
import { hasRoom, pauseInWords, type Scale } from './timeline-scale';

export const WIDTH = 68;
const LEFT = 14;
const FULL = 40;
/** Where frames stand closer than this, in px, rows of `ROW` px say what share has which mark. */
const DENSE = 2;
const ROW = 2;

const COLOURS = ['line', 'quiet', 'ink', 'pick', 'reject', 'accent'] as const;
export type Colours = Record<(typeof COLOURS)[number], string>;

/** The colours of the theme, from the style sheet; reading them takes longer than drawing. */
export function coloursNow(): Colours {
  const style = getComputedStyle(document.documentElement);
  return Object.fromEntries(
    COLOURS.map((name) => [name, style.getPropertyValue(`--color-${name}`)]),
  ) as Colours;
}

/** A canvas's context, of the size it has on the page, emptied. */
export function cleared(canvas: HTMLCanvasElement, height: number): CanvasRenderingContext2D {
  const ratio = window.devicePixelRatio || 1;
  const [wide, high] = [Math.round(WIDTH * ratio), Math.round(height * ratio)];
  if (canvas.width !== wide) canvas.width = wide;
  if (canvas.height !== high) canvas.height = high;
  const context = canvas.getContext('2d')!;
  context.setTransform(ratio, 0, 0, ratio, 0, 0);
  context.clearRect(0, 0, WIDTH, height);
  return context;
}

/** Groups, marks and times. */
export function drawShoot(
  context: CanvasRenderingContext2D,
  scale: Scale,
  marks: ReadonlyMap<number, Mark>,
  visible: ReadonlySet<number>,
  colours: Colours,
): void {
  const { blocks, labels, unit } = scale;
  context.fillStyle = colours.line;
  context.globalAlpha = 0.55;
  for (const { top, bottom } of blocks)
    context.fillRect(12, top - unit / 2, 44, bottom - top + Math.max(1, unit));
  if (unit < DENSE) drawShares(context, scale, marks, visible, colours);
  else drawTicks(context, scale, marks, visible, colours);
  context.globalAlpha = 1;
  for (const [n, { y, time, undated, pause, day }] of labels.entries()) {
    if (!hasRoom(labels, n) || (time === null && day === null)) continue;
    context.fillStyle = colours.ink;
    if (day !== null) {
      // A line across says that another day begins.
      context.fillRect(4, y + 1, WIDTH - 8, 1);
      context.font = 'bold 11px "Atkinson Hyperlegible Next Variable"';
      context.fillText(dayWords(day, true), 7, y + 13);
      continue;
    }
    context.font = '11px "Atkinson Hyperlegible Next Variable"';
    // The time of a file is only about when it was taken.
    context.fillText((undated ? '~' : '') + clock(time).slice(0, 5), 7, y + 12);
    if (!pause) continue;
    context.fillStyle = colours.quiet;
    context.font = '10px "Atkinson Hyperlegible Next Variable"';
    context.fillText(pauseInWords(pause), undated ? 45 : 39, y + 12);
  }
}

function drawTicks(
  context: CanvasRenderingContext2D,
  { ticks, unit }: Scale,
  marks: ReadonlyMap<number, Mark>,
  visible: ReadonlySet<number>,
  colours: Colours,
): void {
  const thick = Math.max(1, Math.min(2.5, unit * 0.5));
  for (const { id, y } of ticks) {
    const decision = marks.get(id)?.decision;
    context.globalAlpha = visible.has(id) ? 1 : 0.3;
    if (decision === 'pick') {
      // The longest line, with a knob at its end.
      context.fillStyle = colours.pick;
      context.fillRect(LEFT, y - thick / 2, FULL, thick);
      context.beginPath();
      context.arc(LEFT + FULL, y, Math.max(1.5, thick), 0, 7);
      context.fill();
    } else if (decision === 'reject') {
      // A short, broken line.
      context.fillStyle = colours.reject;
      for (let x = LEFT; x < LEFT + 18; x += 5) context.fillRect(x, y - thick / 2, 3, thick);
    } else {
      context.fillStyle = colours.quiet;
      context.fillRect(LEFT, y - thick / 2, 26, thick);
    }
  }
}

interface Share {
  decisions: Record<Decision, number>;
  visible: number;
  all: number;
}

/** What share of the frames in each row has which decision. */
export function shares(
  ticks: Scale['ticks'],
  marks: ReadonlyMap<number, Mark>,
  visible: ReadonlySet<number>,
): Map<number, Share> {
  const rows = new Map<number, Share>();
  for (const { id, y } of ticks) {
    const n = Math.floor(y / ROW);
    let row = rows.get(n);
    if (!row) {
      row = { decisions: { pick: 0, reject: 0, undecided: 0 }, visible: 0, all: 0 };
      rows.set(n, row);
    }
    row.decisions[marks.get(id)?.decision ?? 'undecided'] += 1;
    row.all += 1;
    if (visible.has(id)) row.visible += 1;
  }
  return rows;
}

/** Rows from left to right: picks as a solid field, undecided as thin lines, rejects broken. */
function drawShares(
  context: CanvasRenderingContext2D,
  { ticks }: Scale,
  marks: ReadonlyMap<number, Mark>,
  visible: ReadonlySet<number>,
  colours: Colours,
): void {
  for (const [n, { decisions, visible: seen, all }] of shares(ticks, marks, visible)) {
    const y = n * ROW;
    const picks = (FULL * decisions.pick) / all;
    const rejects = (FULL * decisions.reject) / all;
    context.globalAlpha = 0.3 + (0.7 * seen) / all;
    context.fillStyle = colours.pick;
    context.fillRect(LEFT, y, picks, ROW);
    context.fillStyle = colours.quiet;
    context.fillRect(LEFT + picks, y, FULL - picks - rejects, ROW / 2);
    context.fillStyle = colours.reject;
    const end = LEFT + FULL;
    for (let x = end - rejects; x < end; x += 5) context.fillRect(x, y, Math.min(3, end - x), ROW);
  }
}

/** What moves while stepping: the part that is looked at, and the active frame. */
export function drawPlace(
  context: CanvasRenderingContext2D,
  [top, bottom]: readonly [number, number],
  active: number,
  accent: string,
): void {
  context.strokeStyle = accent;
  context.lineWidth = 2;
  for (const [x, way] of [
    [4, 1],
    [64, -1],
  ] as const) {
    context.beginPath();
    context.moveTo(x + 4 * way, top - 4);
    context.lineTo(x, top - 4);
    context.lineTo(x, bottom + 4);
    context.lineTo(x + 4 * way, bottom + 4);
    context.stroke();
  }
  context.fillStyle = accent;
  context.beginPath();
  context.moveTo(6, active - 4);
  context.lineTo(12, active);
  context.lineTo(6, active + 4);
  context.fill();
}
