import { useCallback, useEffect, useRef } from 'react';
import { create } from 'zustand';

import { api, ask, type Beside } from '../../api/client';
import { groupHere, type Look } from '../../state/compare';
import type { Frame } from '../../state/frames';
import { useShoot } from '../../state/shoot';
import { turnedPoint, uprightPoint, type Point } from './place';

/** So many frames of a group are locked at once, those nearest to the one on screen. */
const MOST = 24;
const MIDDLE: Point = { x: 0.5, y: 0.5 };
/** ms that somebody stays with a frame, or a point, before it is worth a question */
const REST_MS = 250;
const SOON_MS = 30;

interface Looked {
  /** the point that the person chose, in the upright picture of one frame */
  look: Look | null;
  points: ReadonlyMap<number, Point>;
  /** what was measured at a point that the person chose, in the frames of the group */
  measured: ReadonlyMap<number, Beside>;
}

export const useLooked = create<Looked>()(() => ({
  look: null,
  points: new Map(),
  measured: new Map(),
}));

/**
 * The point that is looked at close, 0…1 as the frame lies on screen: the one that the person
 * chose, followed on the subject through its group; else the one that matters, which is known
 * before it is asked for.
 */
export function useSubject(frame: Frame | undefined, near: boolean) {
  const { look, points } = useLooked();
  const answered = useRef('');
  const asked = useRef<Look | null>(null);
  const shootId = useShoot((state) => state.shootId);
  const id = frame?.id ?? -1;
  const group = frame?.group ?? -1;
  const ready = frame?.picture === 2;
  const covered = points.has(id);
  // The whole group is asked for, so that neither looking close nor stepping on needs an answer.
  const wanted = !ready ? '' : near ? `${group} ${look?.frame} ${look?.x} ${look?.y}` : `${id}`;

  useEffect(() => {
    if (!wanted || (covered && (!near || answered.current === wanted))) return;
    const { byId } = useShoot.getState();
    // A point that was chosen in another group says nothing here.
    const here = look && byId.get(look.frame)?.group === group ? look : null;
    const members = groupHere();
    const at = members.indexOf(id);
    const from = Math.max(0, Math.min(at - MOST / 2, members.length - MOST));
    let stopped = false;
    const timer = setTimeout(
      () => {
        ask(
          api.POST('/api/shoots/{shoot}/beside', {
            params: { path: { shoot: shootId } },
            body: {
              ...(here ?? { frame: id, x: null, y: null }),
              frames: members.length ? members.slice(from, from + MOST) : [id],
              fine: false,
              prepare: false,
            },
          }),
        ).then(
          (found) => {
            if (stopped) return;
            answered.current = wanted;
            const all = new Map(found.map((place) => [place.frame, place]));
            useLooked.setState({ points: all, measured: here ? all : new Map() });
          },
          // Without an answer, the same coordinates are shown.
          () => undefined,
        );
      },
      // A frame that is on screen close already should not jump later than need be; a point that
      // was clicked is measured at once.
      near && (!covered || asked.current !== look) ? SOON_MS : REST_MS,
    );
    asked.current = look;
    return () => {
      stopped = true;
      clearTimeout(timer);
    };
  }, [wanted, near, covered, id, group, shootId, look]);

  const choose = useCallback((of: Frame, point: Point) => {
    const upright = uprightPoint(point, of.turned);
    useLooked.setState({ look: { frame: of.id, ...upright }, points: new Map([[of.id, upright]]) });
  }, []);
  const chosen = look?.x != null && look.y != null ? { x: look.x, y: look.y } : null;
  return {
    point: turnedPoint(points.get(id) ?? chosen ?? MIDDLE, frame?.turned ?? 0),
    choose,
  };
}
