import { useEffect, useMemo, useRef } from 'react';

import { pictureUrl, type Label } from '../../api/client';
import { MarksOver } from '../../parts/marks';
import { counted } from '../../parts/numbers';
import { ratioOf, type Frame } from '../../state/frames';
import { useShoot } from '../../state/shoot';

/** The frames of this group one above the other, and the frame before and behind the group. */
export function Ladder({ labels }: { labels: readonly Label[] }) {
  const active = useShoot((state) => state.active);
  const visible = useShoot((state) => state.visible);
  const byId = useShoot((state) => state.byId);
  const group = active === null ? undefined : byId.get(active)?.group;

  const { before, members, after } = useMemo(() => {
    const inGroup = (id: number | undefined) => id !== undefined && byId.get(id)?.group === group;
    const first = visible.findIndex(inGroup);
    const last = visible.findLastIndex(inGroup);
    return {
      before: visible[first - 1],
      members: first < 0 ? [] : visible.slice(first, last + 1),
      after: visible[last + 1],
    };
  }, [visible, byId, group]);

  return (
    <aside
      aria-label="This group"
      className="figures flex w-[154px] shrink-0 flex-col overflow-y-auto bg-black/20 p-2 text-xs text-on-stage"
    >
      {before !== undefined && <Neighbour id={before} word="before" />}
      <p className="mb-1.5 font-semibold">
        Group {(group ?? 0) + 1} · {counted(members.length, 'frame')}
      </p>
      {members.map((id, n) => (
        <Rung key={id} id={id} place={n + 1} labels={labels} />
      ))}
      {after !== undefined && <Neighbour id={after} word="next" />}
    </aside>
  );
}

function Rung({ id, place, labels }: { id: number; place: number; labels: readonly Label[] }) {
  const frame = useShoot((state) => state.byId.get(id));
  const mark = useShoot((state) => state.marks.get(id));
  const active = useShoot((state) => state.active === id);
  const go = useShoot((state) => state.go);
  const own = useRef<HTMLButtonElement>(null);
  useEffect(() => {
    if (active) own.current?.scrollIntoView({ block: 'nearest' });
  }, [active]);
  if (!frame || !mark) return null;
  return (
    <button
      ref={own}
      type="button"
      className="mb-2 block w-full scroll-my-10 text-left"
      aria-current={active}
      onClick={() => go(id)}
    >
      <Small frame={frame} active={active}>
        <MarksOver mark={mark} labels={labels} />
      </Small>
      <span className="mt-1 flex justify-between">
        <span>{place}</span>
        <span className={active ? 'font-bold' : ''}>{frame.name}</span>
      </span>
    </button>
  );
}

function Neighbour({ id, word }: { id: number; word: 'before' | 'next' }) {
  const frame = useShoot((state) => state.byId.get(id));
  const go = useShoot((state) => state.go);
  if (!frame) return null;
  return (
    <button
      type="button"
      className={`block w-full text-left ${word === 'before' ? 'mb-2' : 'mt-1'}`}
      onClick={() => go(id)}
    >
      <span className="mb-0.5 block">{word === 'before' ? 'Group before' : 'Next group'}</span>
      <span className="block h-9 overflow-hidden opacity-60 hover:opacity-100">
        <img
          src={pictureUrl(frame, 'thumbnail')}
          alt={frame.name}
          className="h-full w-full object-cover"
        />
      </span>
    </button>
  );
}

function Small({
  frame,
  active,
  children,
}: {
  frame: Frame;
  active: boolean;
  children: React.ReactNode;
}) {
  const upright = ratioOf(frame) < 1;
  return (
    <span
      className="relative mx-auto block bg-black/20"
      style={{
        aspectRatio: ratioOf(frame),
        width: upright ? '62%' : '97%',
        outline: active ? '2px solid var(--color-on-stage)' : undefined,
        outlineOffset: 2,
      }}
    >
      {frame.picture > 0 && (
        <img src={pictureUrl(frame, 'thumbnail')} alt="" className="h-full w-full object-cover" />
      )}
      {children}
    </span>
  );
}
