import { t } from '@lingui/core/macro';
import { useEffect, useRef, useState } from 'react';

import { pictureUrl, type Evidence, type Label } from '../../api/client';
import { MarksOver } from '../../parts/marks';
import { Thumbnail } from '../../parts/picture';
import { flipFrame, useBulk } from '../../state/bulk';
import { ratioOf, type Frame } from '../../state/frames';
import { useShoot } from '../../state/shoot';
import { usePart } from '../side/use-part';
import { AndMore } from './and-more';

const SIDE = 112; // px
/** So many are drawn; the rest can be seen in the sheet. */
const MOST = 400;

/** What all cards are given. */
interface Looks {
  /**
   * what would be left of a group, if those meant were rejected; undefined where nothing would be
   * rejected
   */
  left: ((group: number) => { left: number; of: number } | undefined) | undefined;
  labels: readonly Label[];
  onOpen: (id: number) => void;
}

/**
 * The frames that are named, each with its reason, and the part that it is about at 100 %, beside
 * the best other one of its group.
 */
export function EvidenceList({
  all,
  meant,
  ...looks
}: Looks & {
  all: readonly Evidence[];
  /** those that a mark is for */
  meant: ReadonlySet<number>;
}) {
  return (
    <ul className="flex flex-wrap gap-x-4 gap-y-3">
      {all.slice(0, MOST).map((piece) => (
        <Card key={piece.frame} one={piece} meant={meant.has(piece.frame)} {...looks} />
      ))}
      <AndMore all={all.length} shown={MOST} />
    </ul>
  );
}

function Card({
  one: piece,
  meant,
  left,
  labels,
  onOpen,
}: Looks & { one: Evidence; meant: boolean }) {
  const frame = useShoot((state) => state.byId.get(piece.frame));
  const other = useShoot((state) => state.byId.get(piece.beside ?? -1));
  const mark = useShoot((state) => state.marks.get(piece.frame));
  const off = useBulk((state) => state.off.has(piece.frame));
  const card = useRef<HTMLLIElement>(null);
  const near = useNear(card);
  if (!frame || !mark) return null;
  const remains = meant ? left?.(frame.group) : undefined;
  return (
    <li
      ref={card}
      data-named={frame.name}
      data-meant={meant}
      className="figures text-xs text-on-stage"
      style={{ width: Math.round(SIDE * Math.max(1, ratioOf(frame))) + 2 * SIDE + 8 }}
    >
      <label className="mb-1 flex items-center gap-1.5">
        <input type="checkbox" checked={!off} onChange={() => flipFrame(piece.frame)} />
        <strong>{frame.name}</strong>
        <span className="min-w-0 flex-1 truncate" title={piece.words}>
          {piece.words}
        </span>
      </label>
      <div className="flex gap-1" style={{ height: SIDE, opacity: meant ? 1 : 0.45 }}>
        <button
          type="button"
          title={t`${frame.name}: see it large`}
          className="relative h-full shrink-0 overflow-hidden bg-black/20"
          style={{ width: SIDE * ratioOf(frame) }}
          onClick={() => onOpen(piece.frame)}
        >
          {frame.picture > 0 && <Thumbnail frame={frame} />}
          <MarksOver mark={mark} labels={labels} linked={!!frame.parts} />
        </button>
        {near && piece.at && <CloseUp frame={frame} at={piece.at} words={t`at 100 %`} />}
        {near && piece.at && other && piece.beside_at && (
          <CloseUp frame={other} at={piece.beside_at} words={other.name} />
        )}
      </div>
      {remains && (
        <p className={remains.left ? '' : 'font-bold'} data-left={remains.left}>
          {leftWords(frame.group + 1, remains)}
        </p>
      )}
    </li>
  );
}

/** "leaves group 31 with 1 of 4" */
function leftWords(group: number, { left, of }: { left: number; of: number }): string {
  return left
    ? t`leaves group ${group} with ${left} of ${of}`
    : t`leaves nothing of group ${group}`;
}

/** A part of a frame at 100 %: from the preview at once, at full size as soon as it is there. */
function CloseUp({
  frame,
  at,
  words,
}: {
  frame: Frame;
  at: { x: number; y: number };
  words: string;
}) {
  const ratio = window.devicePixelRatio || 1;
  const seen = { width: SIDE * ratio, height: SIDE * ratio };
  const upright = { ...frame, turned: 0 };
  const { loaded } = usePart(upright, at, seen, true);
  const width = (frame.width ?? 1500) / ratio;
  const height = (frame.height ?? 1000) / ratio;
  // Near an edge the picture goes on to the border of the close-up, not over it.
  const left = Math.min(0, Math.max(SIDE - width, SIDE / 2 - at.x * width));
  const top = Math.min(0, Math.max(SIDE - height, SIDE / 2 - at.y * height));
  return (
    <span
      className="relative block shrink-0 overflow-hidden bg-black/20"
      style={{ width: SIDE, height: SIDE }}
    >
      <span className="absolute" style={{ left, top, width, height }}>
        {frame.picture === 2 && (
          <img
            src={pictureUrl(frame, 'preview')}
            alt=""
            draggable={false}
            decoding="async"
            className="absolute inset-0 h-full w-full max-w-none"
          />
        )}
        {loaded && (
          <img
            src={loaded.url}
            alt=""
            draggable={false}
            data-full="true"
            className="absolute max-w-none"
            style={{
              left: loaded.part.left / ratio,
              top: loaded.part.top / ratio,
              width: loaded.part.width / ratio,
              height: loaded.part.height / ratio,
            }}
          />
        )}
      </span>
      <span className="absolute bottom-0 left-0 max-w-full truncate bg-black/70 px-1 text-white">
        {words}
      </span>
    </span>
  );
}

/** Whether an element has come near the part of its list that is seen. */
function useNear(element: React.RefObject<HTMLElement | null>): boolean {
  const [near, setNear] = useState(false);
  useEffect(() => {
    if (near || !element.current) return;
    const watch = new IntersectionObserver(
      (entries) => {
        if (entries.some((entry) => entry.isIntersecting)) setNear(true);
      },
      { rootMargin: '200px' },
    );
    watch.observe(element.current);
    return () => watch.disconnect();
  }, [element, near]);
  return near;
}
