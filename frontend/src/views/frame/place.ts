/** Where a picture lies on the stage: fitted into it, or at 100 % around a point. */

export interface Box {
  left: number;
  top: number;
  width: number;
  height: number;
}

export interface Point {
  /** share of the picture's width and height, 0…1 */
  x: number;
  y: number;
}

/** The largest box of this ratio on the stage, not larger than 100 %. Stage and box in CSS px. */
export function fitted(
  stage: { width: number; height: number },
  picture: { width: number; height: number },
  pixelRatio: number,
): Box {
  const scale = Math.min(
    stage.width / picture.width,
    stage.height / picture.height,
    1 / pixelRatio,
  );
  const width = picture.width * scale;
  const height = picture.height * scale;
  return { left: (stage.width - width) / 2, top: (stage.height - height) / 2, width, height };
}

/** The picture at 100 % (a pixel of it on a pixel of the screen) with a point in the middle. */
export function close(
  stage: { width: number; height: number },
  picture: { width: number; height: number },
  point: Point,
  pixelRatio: number,
): Box {
  const width = picture.width / pixelRatio;
  const height = picture.height / pixelRatio;
  return {
    left: along(stage.width, width, point.x),
    top: along(stage.height, height, point.y),
    width,
    height,
  };
}

/** One coordinate: centred on the point, but with no gap at the edges of a larger picture. */
function along(stage: number, length: number, share: number): number {
  if (length <= stage) return (stage - length) / 2;
  return Math.min(0, Math.max(stage - length, stage / 2 - share * length));
}

/** The point of the picture under a place on the stage. */
export function pointAt(box: Box, x: number, y: number): Point {
  const clamp = (value: number) => Math.min(1, Math.max(0, value));
  return { x: clamp((x - box.left) / box.width), y: clamp((y - box.top) / box.height) };
}

/** A point of the upright picture as it lies on screen, turned by quarters to the right. */
export function turnedPoint({ x, y }: Point, turned: number): Point {
  return [
    { x, y },
    { x: 1 - y, y: x },
    { x: 1 - x, y: 1 - y },
    { x: y, y: 1 - x },
  ][turned % 4]!;
}

/** The point of the upright picture that lies at a point on screen. */
export function uprightPoint(point: Point, turned: number): Point {
  return turnedPoint(point, 4 - (turned % 4));
}
