import { t } from '@lingui/core/macro';

import type { Label } from '../../api/client';
import { MarksOver } from '../../parts/marks';
import { Thumbnail } from '../../parts/picture';
import { ratioOf } from '../../state/frames';
import { useShoot } from '../../state/shoot';
import { AndMore } from './and-more';

const HEIGHT = 128;
/** So many pictures are drawn; the rest can be seen in the sheet. */
const MOST = 240;

/** Frames in rows, with their names and marks. */
export function Pictures({
  ids,
  labels,
  height = HEIGHT,
  dim,
  words,
  plain = false,
  onOpen,
}: {
  ids: readonly number[];
  labels: readonly Label[];
  height?: number;
  /** frames that are not meant */
  dim?: (id: number) => boolean;
  words?: (id: number) => string;
  /** without marks over them, where they are to be judged anew */
  plain?: boolean;
  onOpen: (id: number) => void;
}) {
  return (
    <ul className="flex flex-wrap gap-3">
      {ids.slice(0, MOST).map((id) => (
        <OnePicture
          key={id}
          id={id}
          labels={labels}
          height={height}
          dim={dim?.(id) ?? false}
          words={words?.(id) ?? ''}
          plain={plain}
          onOpen={onOpen}
        />
      ))}
      <AndMore all={ids.length} shown={MOST} />
    </ul>
  );
}

function OnePicture({
  id,
  labels,
  height,
  dim,
  words,
  plain,
  onOpen,
}: {
  id: number;
  labels: readonly Label[];
  height: number;
  dim: boolean;
  words: string;
  plain: boolean;
  onOpen: (id: number) => void;
}) {
  const frame = useShoot((state) => state.byId.get(id));
  const mark = useShoot((state) => state.marks.get(id));
  if (!frame || !mark) return null;
  const width = Math.round(height * ratioOf(frame));
  return (
    <li style={{ width }} data-named={frame.name}>
      <button
        type="button"
        title={t`${frame.name}: see it large`}
        className="block w-full text-left"
        onClick={() => onOpen(id)}
      >
        <span
          className="relative block overflow-hidden bg-black/20"
          style={{ height, opacity: dim ? 0.45 : 1 }}
        >
          {frame.picture > 0 && <Thumbnail frame={frame} />}
          {!plain && <MarksOver mark={mark} labels={labels} linked={!!frame.parts} />}
        </span>
        <span className="figures mt-0.5 block truncate text-xs text-on-stage">
          {words && `${words} · `}
          {frame.name}
        </span>
      </button>
    </li>
  );
}
