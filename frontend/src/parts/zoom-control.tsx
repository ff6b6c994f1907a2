import { t } from '@lingui/core/macro';
import { Minus, Plus } from 'lucide-react';

import { closeWords, STEP_BY, zoomed, type Close } from '../state/zoom';
import { useTitle } from './key-cap';
import { keepFocus } from './keep-focus';

/** How close is looked, with closer and less close; the figure goes to the whole picture, or 100 %. */
export function ZoomControl({
  near,
  kept = false,
  onClose,
}: {
  near: Close;
  /** only the preview can be shown, so that no figure would be true */
  kept?: boolean;
  onClose: (near: Close) => void;
}) {
  const title = useTitle();
  const button =
    'flex h-6 items-center justify-center px-1.5 pointer-coarse:h-11 pointer-coarse:min-w-11';
  return (
    <span
      role="group"
      aria-label={t`How close`}
      className="figures inline-flex items-center rounded bg-black/60 text-[13px] text-white"
    >
      <button
        type="button"
        aria-label={t`Zoom out`}
        title={title(t`Zoom out, also with the wheel`, 'zoom-out')}
        disabled={near === 0}
        className={`${button} disabled:opacity-40`}
        onMouseDown={keepFocus}
        onClick={() => onClose(zoomed(near, 1 / STEP_BY))}
      >
        <Minus size={14} />
      </button>
      <button
        type="button"
        title={title(near ? t`Show the whole picture` : t`Look close at 100 %`, 'look-close')}
        className={`${button} min-w-12`}
        onMouseDown={keepFocus}
        onClick={() => onClose(near ? 0 : 1)}
      >
        {!near ? t`whole` : kept ? t`preview` : `${closeWords(near)} %`}
      </button>
      <button
        type="button"
        aria-label={t`Zoom in`}
        title={title(t`Zoom in, also with the wheel`, 'zoom-in')}
        className={button}
        onMouseDown={keepFocus}
        onClick={() => onClose(zoomed(near, STEP_BY))}
      >
        <Plus size={14} />
      </button>
    </span>
  );
}
