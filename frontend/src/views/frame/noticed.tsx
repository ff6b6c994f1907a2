import { t } from '@lingui/core/macro';
import { useQuery } from '@tanstack/react-query';

import { api, ask, type FrameHint, type Noticed as Said } from '../../api/client';
import { useSettled } from '../../parts/use-settled';
import { figureWords, thresholdWords, useHints } from '../../state/hints';

/** What the hints say of a frame: reasons, with their figures and thresholds. */
export function Noticed({ id }: { id: number }) {
  const version = useHints((state) => state.version);
  const settled = useSettled(id, 90);
  const { data } = useQuery({
    queryKey: ['frame-hints', settled, version],
    queryFn: async () => ({
      of: settled,
      said: await ask(
        api.GET('/api/frames/{frame}/hints', { params: { path: { frame: settled } } }),
      ),
    }),
    placeholderData: (last) => last,
    staleTime: Infinity,
  });
  const waits = useHints((state) => state.waits);
  // What was said of another frame keeps its room, so that nothing jumps, but is not to be read.
  const stale = !!data && data.of !== id;
  // What the verdict says already is not said a second time.
  const named =
    data?.said.hints.filter((hint) => hint.named && hint.words !== data.said.verdict) ?? [];
  return (
    <section
      aria-label={t`Noticed`}
      data-frame-hints={id}
      className="figures max-h-[45%] shrink-0 overflow-y-auto border-t border-black/30 p-2"
    >
      <div className={stale ? 'invisible' : ''}>
        {data?.said.verdict && (
          <p className="mb-1 leading-snug" data-verdict={verdictState(data.said)}>
            {VERDICT_SIGNS[verdictState(data.said)]} {data.said.verdict}
          </p>
        )}
        <p className="font-semibold">
          {named.length ? t`Noticed` : waits ? t`Looking …` : t`Nothing noticed`}
        </p>
        {named.map((hint) => (
          <Hint key={hint.kind} hint={hint} />
        ))}
      </div>
    </section>
  );
}

function verdictState({ best, usable }: Said): 'best' | 'usable' | 'unusable' {
  return best ? 'best' : usable ? 'usable' : 'unusable';
}

/** What the verdict is, by shape; its words say the same. */
const VERDICT_SIGNS = { best: '◆', usable: '◇', unusable: '×' } as const;

function Hint({ hint }: { hint: FrameHint }) {
  return (
    <p className="mt-1 leading-snug" data-hint={hint.kind}>
      <strong>{hint.title}</strong>: {hint.words}{' '}
      {/* A figure without a unit says nothing that the words don't: a rank, a distance of 100. */}
      {hint.unit !== '' && (
        <>
          <span className="whitespace-nowrap">({figureWords(hint, hint.figure)},</span>{' '}
          <span className="whitespace-nowrap">{thresholdWords(hint, hint.threshold)})</span>
        </>
      )}
    </p>
  );
}
