/** How close a picture is looked at, freely from the whole of it to four times its pixels. */

/** px of the screen for one of the picture; 0: the whole picture, fitted. */
export type Close = number;

export const CLOSEST = 4;
/** Below this, a preview shows as much as the picture itself. */
export const FULL_FROM = 0.3;
/** From here on pixels are shown as pixels. */
export const PIXELS_FROM = 2;
/** The second click of a double click does nothing more. */
export const DOUBLE_MS = 350;
/** A step by key or button. */
export const STEP_BY = Math.SQRT2;

/** At how many px of the screen for one of the picture the active frame lies when it is fitted. */
export const stageFit = { current: 0.25 };

/** How high a picture may be on the stage, or in its tile, CSS px. */
export const stageSize = { current: { height: 600 } };

/** Closer by a factor, or less close; not less than fitted, and 100 % is never skipped. */
export function zoomed(near: Close, by: number, fit = stageFit.current): Close {
  const from = near || fit;
  const to = from * by;
  if ((from < 1 && to > 1) || (from > 1 && to < 1)) return fit < 1 || by > 1 ? 1 : 0;
  return to <= fit * 1.001 ? 0 : Math.min(CLOSEST, to);
}

/** The factor of a turn of the wheel, or of two fingers on a touchpad. */
export function wheelFactor({ deltaY, deltaMode, ctrlKey }: WheelEvent): number {
  const px = deltaY * (deltaMode === 1 ? 16 : deltaMode === 2 ? 400 : 1);
  return Math.exp(-Math.max(-200, Math.min(200, px)) * (ctrlKey ? 0.01 : 0.0018));
}

/** "34 %" of how close is looked. */
export const closeWords = (near: Close): number => Math.round(100 * (near || stageFit.current));
