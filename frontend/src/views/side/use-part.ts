import { useEffect, useState } from 'react';

import type { Frame } from '../../state/frames';
import { uprightPoint, type Point } from '../frame/place';

interface Part {
  /** px at 100 % of the upright picture */
  left: number;
  top: number;
  width: number;
  height: number;
}

export interface Loaded {
  url: string;
  part: Part;
}

/** Parts begin and end at multiples of this, so that a little dragging asks for nothing new. */
const GRID = 128;
const MARGIN = 48;
const MOST = 4096;

/**
 * The part of a frame at full size around a point, decoded; null until there is one, and whether it
 * can't be read.
 */
export function usePart(
  frame: Frame,
  centre: Point,
  /** px of the picture, as it lies on screen */
  seen: { width: number; height: number },
  wanted: boolean,
): { loaded: Loaded | null; failed: boolean } {
  const [loaded, setLoaded] = useState<Loaded | null>(null);
  const [failed, setFailed] = useState('');
  const part = wanted ? partAround(frame, centre, seen) : null;
  const url = part && partUrl(frame, part);
  useEffect(() => {
    if (!url) return;
    const wish = { on: true };
    const image = new Image();
    image.src = url;
    image.decode().then(
      () => {
        if (wish.on) setLoaded({ url, part });
      },
      () => {
        if (wish.on) setFailed(url);
      },
    );
    return () => {
      wish.on = false;
    };
    // The address says all of it.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [url]);
  const ours = loaded?.url.startsWith(`/api/frames/${frame.id}/`) ? loaded : null;
  return { loaded: ours, failed: url !== null && failed === url };
}

/** Whether a part holds all of the picture that is seen around a point. */
export function covers(
  part: Part,
  frame: Frame,
  centre: Point,
  seen: { width: number; height: number },
): boolean {
  const box = boxAround(frame, centre, seen, 0);
  return (
    part.left <= box.left &&
    part.top <= box.top &&
    part.left + part.width >= box.right &&
    part.top + part.height >= box.bottom
  );
}

function partUrl(frame: Frame, { left, top, width, height }: Part): string {
  return `/api/frames/${frame.id}/part?left=${left}&top=${top}&width=${width}&height=${height}&key=${frame.key ?? ''}`;
}

function boxAround(
  frame: Frame,
  centre: Point,
  seen: { width: number; height: number },
  margin: number,
) {
  const width = frame.width ?? 1;
  const height = frame.height ?? 1;
  const at = uprightPoint(centre, frame.turned);
  const [across, down] = frame.turned % 2 ? [seen.height, seen.width] : [seen.width, seen.height];
  const within = (value: number, most: number) => Math.min(most, Math.max(0, value));
  return {
    left: within(Math.floor(at.x * width - across / 2 - margin), width),
    top: within(Math.floor(at.y * height - down / 2 - margin), height),
    right: within(Math.ceil(at.x * width + across / 2 + margin), width),
    bottom: within(Math.ceil(at.y * height + down / 2 + margin), height),
  };
}

function partAround(
  frame: Frame,
  centre: Point,
  seen: { width: number; height: number },
): Part | null {
  if (frame.picture !== 2 || !frame.width || !frame.height) return null;
  const box = boxAround(frame, centre, seen, MARGIN);
  const left = Math.floor(box.left / GRID) * GRID;
  const top = Math.floor(box.top / GRID) * GRID;
  const width = Math.min(frame.width, Math.ceil(box.right / GRID) * GRID, left + MOST) - left;
  const height = Math.min(frame.height, Math.ceil(box.bottom / GRID) * GRID, top + MOST) - top;
  return width > 0 && height > 0 ? { left, top, width, height } : null;
}
