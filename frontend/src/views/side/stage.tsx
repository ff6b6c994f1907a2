import { useEffect, useMemo, useRef } from 'react';

import type { Label } from '../../api/client';
import { useSize } from '../../parts/use-size';
import {
  lock,
  lockAgain,
  lookAt,
  NO_OFFSET,
  useCompare,
  zoomAlone,
  type Offset,
} from '../../state/compare';
import { ratioOf, sizeOf, type Frame } from '../../state/frames';
import { useHints } from '../../state/hints';
import { useShoot } from '../../state/shoot';
import { uprightPoint, type Point } from '../frame/place';
import { lookFor } from './placement';
import { FrameTile } from './tile';
import { closeTiles, tiles, type Tile } from './tiles';
import { stageFit, stageSize, zoomed, type Close } from '../../state/zoom';

/** Where the tiles lie now, for the keys that go up and down. */
export const stageTiles: { current: { ids: readonly number[]; boxes: readonly Tile[] } } = {
  current: { ids: [], boxes: [] },
};

/** Frames beside each other, zoomed and moved together. */
export function TileStage({
  ids,
  places,
  near,
  labels,
  bare,
  onClose,
}: {
  ids: readonly number[];
  /** what each tile is, where it is more than one of several */
  places?: readonly string[];
  near: Close;
  labels: readonly Label[];
  bare: boolean;
  onClose: (near: Close) => void;
}) {
  const area = useRef<HTMLDivElement>(null);
  const stage = useSize(area);
  const byId = useShoot((state) => state.byId);
  const carried = useCompare((state) => state.carried);
  const ratios = ids.map((id) => {
    const frame = byId.get(id);
    return frame ? ratioOf(frame) : 1.5;
  });
  const proportions = ratios.map((ratio) => ratio.toFixed(3)).join(' ');
  const alike = new Set(ids.map((id) => byId.get(id)?.group)).size === 1;
  const { fitted, close } = useMemo(() => {
    const list = proportions.split(' ').map(Number);
    const { width, height } = stage;
    if (!width || !height) return { fitted: [], close: [] };
    const room = { width, height };
    return { fitted: tiles(list, room, alike), close: closeTiles(list, room, alike) };
  }, [proportions, stage, alike]);
  const boxes = near ? close : fitted;
  const first = byId.get(ids[0] ?? -1);
  const size = first && sizeOf(first);
  const fit = size && fitted[0] ? fitted[0].width / size.width : 0;
  useEffect(() => {
    if (fit > 0) stageFit.current = fit * (window.devicePixelRatio || 1);
    if (close[0]) stageSize.current = { height: close[0].height };
  }, [fit, close]);
  useEffect(() => {
    stageTiles.current = { ids, boxes };
  }, [ids, boxes]);
  useLocked(ids);
  useFine(near > 0);

  const drag = (frame: Frame, by: Offset, ended: boolean) => {
    const { shift, places: found } = useCompare.getState();
    const next = { x: shift.x + by.x, y: shift.y + by.y };
    if (!ended) useCompare.setState({ shift: next });
    else lookAt({ frame: frame.id, ...lookFor(frame, found.get(frame.id), next) });
  };
  const point = (frame: Frame, at: Point | null) => {
    if (at) {
      useCompare.setState({ shift: NO_OFFSET });
      lookAt({ frame: frame.id, ...uprightPoint(at, frame.turned) });
    }
    onClose(at ? 1 : 0);
  };
  // Where the wheel begins, there all look closer.
  const zoom = (frame: Frame, factor: number, at: Point, alone: boolean) => {
    if (near && (alone || useCompare.getState().alone)) {
      zoomAlone(frame.id, factor);
      return;
    }
    const next = zoomed(near, factor);
    if (!near && next) {
      useCompare.setState({ shift: NO_OFFSET });
      lookAt({ frame: frame.id, ...uprightPoint(at, frame.turned) });
    }
    if (next !== near) onClose(next);
  };
  return (
    <div
      ref={area}
      data-testid="tiles"
      data-close={near}
      className="relative h-full min-w-0 flex-1"
    >
      {boxes.length === ids.length &&
        ids.map((id, n) => (
          <FrameTile
            key={id}
            id={id}
            number={n + 1}
            place={places?.[n]}
            box={boxes[n]!}
            closeBox={close[n]!}
            near={near}
            labels={labels}
            carried={carried === id}
            bare={bare}
            onActivate={(frame) => useShoot.getState().go(frame)}
            onPoint={point}
            onDrag={drag}
            onZoom={zoom}
          />
        ))}
    </div>
  );
}

/** Keep every frame on the stage locked to the part that is looked at. */
function useLocked(ids: readonly number[]): void {
  const missing = useCompare((state) => ids.some((id) => !state.places.has(id)));
  // A preview that has come meanwhile can be locked.
  const ready = useShoot((state) => ids.filter((id) => state.byId.get(id)?.picture === 2).length);
  const wanted = missing ? ids.join(' ') : '';
  const before = useRef(0);
  useEffect(() => {
    if (wanted || ready > before.current) void lock();
    before.current = wanted ? ready : Math.max(ready, before.current);
  }, [wanted, ready]);
  const version = useHints((state) => state.version);
  const told = useRef(version);
  useEffect(() => {
    if (version !== told.current) lockAgain();
    told.current = version;
  }, [version]);
}

const FINE_AFTER_MS = 400;

/** Once the pictures are there at full size, the places are made exact from them. */
export function useFine(wanted: boolean): void {
  const known = useCompare((state) => state.places);
  const fine = useCompare((state) => state.fine);
  useEffect(() => {
    if (!wanted || fine || !known.size) return;
    const timer = setTimeout(() => void lock(true), FINE_AFTER_MS);
    return () => clearTimeout(timer);
  }, [wanted, fine, known]);
}
