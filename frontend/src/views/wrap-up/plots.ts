import { whole } from '../../texts/numbers';
/** The tally's plots, drawn on a canvas so that they can be saved as pictures. */

import { t } from '@lingui/core/macro';
export interface Bar {
  words: string;
  frames: number;
}

export interface Ink {
  paper: string;
  ink: string;
  quiet: string;
  line: string;
}

const ROW = 26;
const FONT = '"Atkinson Hyperlegible Next Variable", sans-serif';

export function funnelHeight(bars: readonly Bar[]): number {
  return bars.length * ROW + 8;
}

/** Bars in the middle of the width, each as long as the share of the first one. */
export function drawFunnel(
  context: CanvasRenderingContext2D,
  width: number,
  bars: readonly Bar[],
  ink: Ink,
): void {
  context.fillStyle = ink.paper;
  context.fillRect(0, 0, width, funnelHeight(bars));
  const most = Math.max(1, bars[0]?.frames ?? 1);
  const left = 190;
  const room = width - left - 128;
  context.textBaseline = 'middle';
  bars.forEach((bar, n) => {
    const y = 4 + n * ROW;
    const long = bar.frames ? Math.max(2, (room * bar.frames) / most) : 0;
    context.font = `14px ${FONT}`;
    context.fillStyle = ink.ink;
    context.textAlign = 'right';
    context.fillText(bar.words, left - 12, y + ROW / 2, left - 16);
    context.fillStyle = ink.line;
    context.fillRect(left, y + 4, room, ROW - 8);
    context.fillStyle = ink.ink;
    context.fillRect(left, y + 4, long, ROW - 8);
    context.textAlign = 'left';
    context.font = `600 14px ${FONT}`;
    context.fillText(whole(bar.frames), left + room + 10, y + ROW / 2);
    context.font = `13px ${FONT}`;
    context.fillStyle = ink.quiet;
    context.fillText(share(bar.frames, most), left + room + 60, y + ROW / 2);
  });
}

export function share(value: number, of: number): string {
  const percent = (100 * value) / of;
  return percent > 0 && percent < 1 ? t`under 1 %` : `${Math.round(percent)} %`;
}

export const PACE_HEIGHT = 96;

/** Decisions over the time worked, as columns of equal spans. */
export function drawPace(
  context: CanvasRenderingContext2D,
  width: number,
  counts: readonly number[],
  span: string,
  ink: Ink,
): void {
  context.fillStyle = ink.paper;
  context.fillRect(0, 0, width, PACE_HEIGHT);
  const most = Math.max(1, ...counts);
  const step = width / counts.length;
  const room = PACE_HEIGHT - 40;
  counts.forEach((count, n) => {
    const tall = Math.max(1, (room * count) / most);
    context.fillStyle = ink.ink;
    context.fillRect(n * step + 1, 18 + room - tall, step - 2, tall);
  });
  context.font = `13px ${FONT}`;
  context.fillStyle = ink.quiet;
  context.textBaseline = 'alphabetic';
  context.textAlign = 'left';
  context.fillText('start', 0, PACE_HEIGHT - 5);
  context.fillText(t`${most} in ${span}`, 0, 12);
  context.textAlign = 'right';
  context.fillText('now', width, PACE_HEIGHT - 5);
}
