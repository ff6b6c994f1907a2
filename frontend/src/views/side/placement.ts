/** How a frame lies in its tile when it is looked at close. */
import { t } from '@lingui/core/macro';

import type { Beside } from '../../api/client';
import type { EyesLook } from '../../parts/eye-sign';
import { NO_OFFSET, type Offset } from '../../state/compare';
import { sizeOf, type Frame } from '../../state/frames';
import { turnedPoint, uprightPoint, type Point } from '../frame/place';
import { fixed, signed } from '../../texts/numbers';

/** The point in the middle of a frame's tile, 0…1 as it lies on screen; it may lie outside. */
export function centreOf(
  frame: Frame,
  place: Pick<Beside, 'x' | 'y'> | undefined,
  shift: Offset,
  nudge: Offset = NO_OFFSET,
): Point {
  const size = sizeOf(frame) ?? { width: 1500, height: 1000 };
  const at = turnedPoint(place ?? { x: 0.5, y: 0.5 }, frame.turned);
  return {
    x: at.x + (shift.x + nudge.x) / size.width,
    y: at.y + (shift.y + nudge.y) / size.height,
  };
}

/** The point of the upright picture that all tiles would be locked to, once a drag is over. */
export function lookFor(frame: Frame, place: Beside | undefined, shift: Offset): Point {
  const point = uprightPoint(centreOf(frame, place, shift), frame.turned);
  const within = (value: number) => Math.min(1, Math.max(0, value));
  return { x: within(point.x), y: within(point.y) };
}

/** From this width of a tile in px on, all is said in full. */
export const WIDE = 400;
/** Below this one, only the figure. */
const NARROW = 250;

/**
 * What is said of a frame's focus, in a tile of this width in px: the verdict on it, or, where a
 * person looks elsewhere, what was measured "here".
 */
export function focusWords(place: Beside | undefined, width = WIDE): string {
  if (!place) return '';
  const { blur, words, short } = place.standing;
  const said = width < WIDE ? short : words;
  if (blur === null) return said;
  const figure = fixed(blur, 1);
  const px = place.judged ? t`${figure} px` : t`here ${figure} px`;
  return said && width >= NARROW ? `${px} · ${said}` : px;
}

/**
 * What is said of the eyes of a frame's faces that count, with the shape that says the same.
 * `half`: some are half closed.
 */
export function eyesOf(
  place: Beside | undefined,
  softFrom: number,
  half = false,
): { look: EyesLook; words: string } | null {
  if (!place?.faces) return null;
  const { faces, closed } = place;
  if (closed)
    return {
      look: 'closed',
      words: faces === 1 ? t`closed` : t`${closed}/${faces} closed`,
    };
  if (half) return { look: 'half', words: t`half closed` };
  const soft = place.eyes_blur !== null && place.eyes_blur >= softFrom;
  return soft ? { look: 'soft', words: t`soft` } : { look: 'open', words: t`open` };
}

/** Whether everybody in a frame who counts is told to smile. */
export function allSmile(place: Pick<Beside, 'faces' | 'smiling'> | undefined): boolean {
  return !!place?.smiling && place.smiling >= (place.faces ?? 0);
}

/**
 * What is wrong with a frame's exposure; empty where nothing is. `clipped`: from how much on that
 * is a fault, in %, by the threshold of its hint; `width`: px of its tile.
 */
export function exposureWords(
  place: Beside | undefined,
  clipped = Infinity,
  width = WIDE,
): string[] {
  if (!place) return [];
  const share = (value: number) => `${Math.max(1, Math.round(100 * value))} %`;
  const words: string[] = [];
  if (100 * (place.clipped_high ?? 0) >= clipped)
    words.push(t`${share(place.clipped_high!)} clipped`);
  if (100 * (place.clipped_low ?? 0) >= clipped) words.push(t`${share(place.clipped_low!)} black`);
  const { ev } = place;
  if (ev !== null) {
    if (width < WIDE) words.push(t`${signed(ev, 1)} EV`);
    else words.push(ev < 0 ? t`${fixed(-ev, 1)} EV darker` : t`${fixed(ev, 1)} EV brighter`);
  }
  return words;
}
