import { t } from '@lingui/core/macro';
import { memo } from 'react';

import type { Label } from '../../api/client';
import { MarksOver } from '../../parts/marks';
import { Thumbnail } from '../../parts/picture';
import { FAILED, markInWords } from '../../state/frames';
import { useShoot } from '../../state/shoot';
import { labelName } from '../../state/mark-words';
import { namesOf } from '../../state/pairs';

/** One frame in the sheet. */
export const SheetCell = memo(function SheetCell({
  id,
  x,
  y,
  width,
  height,
  named,
  labels,
  onOpen,
}: {
  id: number;
  /** px from the left edge and the top of all rows */
  x: number;
  y: number;
  width: number;
  height: number;
  /** whether its name stands under it */
  named: boolean;
  labels: readonly Label[];
  onOpen: () => void;
}) {
  const frame = useShoot((state) => state.byId.get(id));
  const mark = useShoot((state) => state.marks.get(id));
  const active = useShoot((state) => state.active === id);
  const place = useShoot((state) => state.selection.indexOf(id));
  const choose = useShoot((state) => state.choose);
  if (!frame || !mark) return null;
  const nameOf = (letter: string) => labelName(labels, letter);
  const lost = frame.missing || frame.state === FAILED;
  const others = frame.parts?.filter((part) => part !== id);
  const linked = others ? t`, one picture with ${namesOf(others)}` : '';
  const elsewhere = frame.held ? t`set aside` : frame.movedOut ? t`moved out` : '';
  return (
    <div
      role="option"
      aria-selected={active || place >= 0}
      aria-label={`${frame.name}, ${markInWords(mark, nameOf)}${linked}${elsewhere ? `, ${elsewhere}` : ''}${frame.notice ? `, ${frame.notice}` : ''}`}
      data-frame={id}
      className="absolute top-0 left-0 bg-black/15"
      style={{
        transform: `translate(${x}px, ${y}px)`,
        width,
        height,
        outline: active ? '2px solid var(--color-on-stage)' : undefined,
        outlineOffset: 2,
      }}
      onClick={(event) => {
        // A finger has no Ctrl: once something is selected, a tap selects more.
        const finger = (event.nativeEvent as PointerEvent).pointerType === 'touch';
        const more = finger && useShoot.getState().selection.length > 0;
        const toggles = event.ctrlKey || event.metaKey || more;
        choose(id, event.shiftKey ? 'range' : toggles ? 'toggle' : 'only');
      }}
      onDoubleClick={onOpen}
    >
      {frame.picture > 0 && <Thumbnail frame={frame} />}
      {(lost || frame.picture === 0) && (
        <div
          aria-hidden="true"
          className={`absolute inset-0 flex flex-col items-center justify-center overflow-hidden p-2 text-center text-xs ${lost ? 'bg-black/60 text-white' : 'text-on-stage'}`}
        >
          <span className="font-semibold">{frame.name}</span>
          {lost && (
            <span className="line-clamp-4">
              {frame.missing ? t`The file is no longer in the folder.` : frame.notice}
            </span>
          )}
        </div>
      )}
      {!lost && frame.notice && (
        <span
          title={frame.notice}
          aria-hidden="true"
          className="absolute right-11 bottom-1 left-9 truncate rounded bg-amber-200 px-1 text-center text-xs font-semibold text-black"
        >
          {frame.notice}
        </span>
      )}
      <MarksOver mark={mark} labels={labels} linked={!!frame.parts} />
      {elsewhere && !frame.notice && (
        <span
          aria-hidden="true"
          className="absolute right-11 bottom-1 left-11 truncate rounded bg-black/75 px-1 text-center text-xs font-semibold text-white"
        >
          {elsewhere}
        </span>
      )}
      {named && (
        <span
          aria-hidden="true"
          className="figures absolute inset-x-0 top-full truncate pt-0.5 text-center text-xs text-on-stage"
        >
          {frame.name}
        </span>
      )}
      {place >= 0 && (
        <span
          // Drawn, not written, like the marks.
          data-place={place + 1}
          className="figures absolute top-1 left-1 flex h-5 min-w-5 items-center justify-center rounded bg-accent px-1 text-xs font-bold text-white outline outline-white before:content-[attr(data-place)]"
        />
      )}
    </div>
  );
});
