import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';

import type { Facts } from '../../api/client';
import type { Frame } from '../../state/frames';
import { namesOf } from '../../state/pairs';
import { useFacts } from './use-facts';
import { type Close, closeWords, FULL_FROM } from '../../state/zoom';

/** The facts of the exposure over the upper left corner. */
export function FactsOver({
  frame,
  close,
  closeReady,
  closeFailed,
}: {
  frame: Frame;
  close: Close;
  closeReady: boolean;
  closeFailed: boolean;
}) {
  const known = useFacts(frame);
  const stated = known?.stated.filter((fact) => fact.alone && fact.value !== false) ?? [];
  return (
    <div className="figures pointer-events-none absolute top-2 left-2 max-w-[70%] rounded bg-black/70 px-2.5 py-1 text-[13px] text-white">
      <div className="flex flex-wrap gap-x-3">
        <strong>{frame.name}</strong>
        {stated.map((fact) => (
          <span key={fact.fact}>{fact.alone}</span>
        ))}
        {close > 0 && !closeFailed && <span>{closeWords(close)} %</span>}
        {frame.turned > 0 && (
          <span>
            <Trans>turned {frame.turned * 90}°</Trans>
          </span>
        )}
        {frame.parts && (
          <span>
            <Trans>one picture with {namesOf(frame.parts.filter((id) => id !== frame.id))}</Trans>
          </span>
        )}
        {frame.kind.includes('raw') && <span>{frame.kind}</span>}
        {known && (
          <FromWhere facts={known} looksClose={close >= FULL_FROM} closeReady={closeReady} />
        )}
      </div>
      {frame.notice && <div className="text-amber-200">{frame.notice}</div>}
    </div>
  );
}

/**
 * Of a raw frame: whether its own preview is on screen, or what was developed; of a very large one,
 * that it is less.
 */
function FromWhere({
  facts,
  looksClose,
  closeReady,
}: {
  facts: Facts;
  looksClose: boolean;
  closeReady: boolean;
}) {
  const from = looksClose && closeReady ? facts.close_from : facts.shown_from;
  const words = {
    file: '',
    embedded: t`its own preview`,
    developed: t`developed at half size`,
    reduced: t`at half its size, or less`,
  }[from];
  const waits = looksClose && !closeReady && facts.close_from === 'developed';
  if (!words) return null;
  return (
    <span>
      {words}
      {waits && t`, developing …`}
    </span>
  );
}
