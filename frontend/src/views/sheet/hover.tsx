import { t } from '@lingui/core/macro';

import { useRef } from 'react';

import { api } from '../../api/client';
import { keepFocus } from '../../parts/keep-focus';
import { PickSign, RejectSign } from '../../parts/marks';
import type { Edit } from '../../state/marking';
import { useShoot } from '../../state/shoot';

/** Over the frame under the pointer: its name, and the three decisions for the mouse. */
export function HoverBar({
  id,
  left,
  top,
  width,
  onMark,
}: {
  id: number;
  /** px in the sheet's content: the lower left corner of the frame */
  left: number;
  top: number;
  width: number;
  onMark: ((id: number, edit: Edit) => void) | undefined;
}) {
  const name = useShoot((state) => state.byId.get(id)?.name ?? '');
  const decision = useShoot((state) => state.marks.get(id)?.decision);
  // A drag has to say at once what the file is called.
  const file = useRef('');
  const learn = async () => {
    const { shootId } = useShoot.getState();
    const { data } = await api.POST('/api/shoots/{shoot}/paths', {
      params: { path: { shoot: shootId } },
      body: { frames: [id] },
    });
    file.current = data?.paths[0]?.split('/').at(-1) ?? '';
  };
  const mark = (value: 'reject' | 'undecided' | 'pick', words: string, sign: React.ReactNode) => (
    <button
      type="button"
      tabIndex={-1}
      aria-label={t`${words}: ${name}`}
      title={words}
      aria-pressed={decision === value}
      className="flex h-6 w-8 items-center justify-center rounded hover:bg-white/25 aria-pressed:bg-white/40"
      onMouseDown={keepFocus}
      onClick={() => onMark?.(id, { decision: value })}
    >
      {sign}
    </button>
  );
  return (
    <div
      data-hover={id}
      className="pointer-events-none absolute top-0 z-10 flex h-7 items-center gap-0.5 bg-black/80 pr-0.5 pl-2 text-[13px] text-white"
      style={{ left, width, transform: `translateY(${top - 28}px)` }}
    >
      <span
        className="pointer-events-auto min-w-0 flex-1 cursor-grab truncate"
        title={t`Drag the name to a folder or a program: its file is copied there`}
        draggable={!!onMark}
        onPointerEnter={() => void learn()}
        onPointerDown={(event) => event.stopPropagation()}
        onDragStart={(event) => dragOut(event, id, file.current || name)}
      >
        {name}
      </span>
      {onMark && (
        <span className="pointer-events-auto flex">
          {mark('reject', t`Reject`, <RejectSign size={20} />)}
          {mark(
            'undecided',
            t`Leave undecided`,
            <span aria-hidden="true" className="block size-3 rounded-full border-2 border-white" />,
          )}
          {mark('pick', t`Pick`, <PickSign size={20} />)}
        </span>
      )}
    </div>
  );
}

/** Let a frame's file be dragged out of the page, where the browser can. */
function dragOut(event: React.DragEvent, id: number, file: string): void {
  const address = `${window.location.origin}/api/frames/${id}/original`;
  event.dataTransfer.effectAllowed = 'copy';
  event.dataTransfer.setData('DownloadURL', `application/octet-stream:${file}:${address}`);
  event.dataTransfer.setData('text/plain', file);
}
