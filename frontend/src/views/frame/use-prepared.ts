import { useEffect, useRef } from 'react';

import { pictureUrl } from '../../api/client';
import { prepareFull, preparePreviews } from '../../parts/prepared';
import { FAILED, sizeOf, type Frame } from '../../state/frames';
import { useShoot } from '../../state/shoot';
import { fitted } from './place';

/** How many frames ahead are decoded, in the direction of travel, and how many behind. */
const AHEAD = [1, 2, -1, 3, 4, 5, 6, -2] as const;
/** Flying past, what is near will have gone by before it is decoded. */
const AHEAD_FLYING = [2, 3, 4, 5, 6, 1] as const;
const FLYING_MS = 120;
const AHEAD_FULL = [0, 1, 2, -1] as const;

/** The size in px of the screen that a frame's preview is drawn in, before it is turned. */
export function drawnSize(frame: Frame, stage: { width: number; height: number }) {
  const ratio = window.devicePixelRatio || 1;
  const box = fitted(stage, sizeOf(frame) ?? { width: 1500, height: 1000 }, ratio);
  const width = Math.max(1, Math.round(box.width * ratio));
  const height = Math.max(1, Math.round(box.height * ratio));
  return frame.turned % 2 ? { width: height, height: width } : { width, height };
}

/** Decode the neighbours before they are asked for, more of them in the direction of travel. */
export function usePrepared(stage: { width: number; height: number }, near: boolean): void {
  const last = useRef({ at: 0, way: 1 });
  const since = useRef(0);
  const active = useShoot((state) => state.active);
  const visible = useShoot((state) => state.visible);
  // A picture that has become another one is prepared anew.
  const key = useShoot((state) => {
    const frame = state.byId.get(active ?? -1);
    return frame && `${frame.key} ${frame.picture} ${frame.width} ${frame.turned}`;
  });
  const { width, height } = stage;
  useEffect(() => {
    if (active === null || !width || !height) return;
    const at = visible.indexOf(active);
    if (at !== last.current.at) last.current = { at, way: at > last.current.at ? 1 : -1 };
    const { way } = last.current;
    const { byId } = useShoot.getState();
    const frameAt = (by: number) => {
      const frame = byId.get(visible[at + by * way] ?? -1);
      // The one on screen is made now if it isn't made yet; its neighbours are not worth that.
      const wanted = by === 0 ? frame?.state !== FAILED : frame?.picture === 2;
      return wanted ? frame : undefined;
    };
    const wantedOf = (frame: Frame, fine: boolean) => ({
      url: pictureUrl(frame, 'preview'),
      size: drawnSize(frame, { width, height }),
      fine,
    });
    const now = performance.now();
    const flying = now - since.current < FLYING_MS;
    since.current = now;
    const order = flying ? AHEAD_FLYING : [0, ...AHEAD];
    const urls = order.flatMap((by) => {
      const frame = frameAt(by);
      return frame ? wantedOf(frame, false) : [];
    });
    preparePreviews(urls);
    // Once somebody stays, the finer picture; flying past, nobody sees the difference.
    const rest = setTimeout(() => {
      const frame = frameAt(0);
      if (!frame) return;
      preparePreviews([wantedOf(frame, true), ...urls]);
    }, FLYING_MS);
    if (!near) return () => clearTimeout(rest);
    // Looking close goes on at the same place.
    for (const by of AHEAD_FULL) {
      const frame = frameAt(by);
      if (frame) prepareFull(pictureUrl(frame, 'full'));
    }
    return () => clearTimeout(rest);
  }, [active, visible, near, width, height, key]);
}
