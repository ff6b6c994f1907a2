/** Which part of a frame shows a face, or its eyes. All of the upright picture, 0…1. */
import type { Face } from '../../state/faces';

export interface Crop {
  left: number;
  top: number;
  width: number;
  height: number;
}

/**
 * The whole face with some hair and chin; `ratio`: the frame's width by its height; as wide as
 * `shape`.
 */
export function faceCrop(face: Face, ratio: number, shape: number): Crop {
  const [left, top, right, bottom] = face.box as [number, number, number, number];
  const height = 1.5 * Math.max(bottom - top, ((right - left) * ratio) / shape);
  return around((left + right) / 2, (top + bottom) / 2 - 0.05 * height, height, ratio, shape);
}

/** Both eyes. */
export function eyesCrop(face: Face, ratio: number, shape: number): Crop {
  const [first, second] = face.eyes as [Face['eyes'][number], Face['eyes'][number]];
  const [left, , right] = face.box as [number, number, number, number];
  const apart = Math.hypot((second.x - first.x) * ratio, second.y - first.y);
  // Of a face from the side both eyes lie nearly in one place.
  const width = Math.max(2.2 * apart, 0.7 * (right - left) * ratio);
  return around((first.x + second.x) / 2, (first.y + second.y) / 2, width / shape, ratio, shape);
}

function around(x: number, y: number, height: number, ratio: number, shape: number): Crop {
  const width = (height * shape) / ratio;
  return { left: x - width / 2, top: y - height / 2, width, height };
}

/** The part at full size that covers a crop, in px, for the address of a picture. */
export function partOf(
  crop: Crop,
  { width, height }: { width: number; height: number },
): { left: number; top: number; width: number; height: number } | null {
  const left = Math.max(0, Math.floor(crop.left * width));
  const top = Math.max(0, Math.floor(crop.top * height));
  const right = Math.min(width, Math.ceil((crop.left + crop.width) * width));
  const bottom = Math.min(height, Math.ceil((crop.top + crop.height) * height));
  if (right <= left || bottom <= top) return null;
  return { left, top, width: Math.min(4096, right - left), height: Math.min(4096, bottom - top) };
}
