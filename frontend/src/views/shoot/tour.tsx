import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import { useState } from 'react';

import type { Settings } from '../../api/client';
import type { Command } from '../../commands/command';
import { Button } from '../../parts/button';
import { Cap } from '../../parts/key-cap';
import { keepFocus } from '../../parts/keep-focus';

interface Stop {
  title: string;
  /** commands whose keys are shown, with the words for each */
  keys: readonly (readonly [string, string])[];
  words: string;
}

const STOPS: readonly Stop[] = [
  {
    title: t`Decide`,
    keys: [
      ['reject', t`reject`],
      ['undecide', t`undecided`],
      ['pick', t`pick`],
    ],
    words: t`One key for each frame; then the next one comes. Nothing is deleted by a mark.`,
  },
  {
    title: t`Look`,
    keys: [
      ['swap-view', t`sheet or one frame`],
      ['look-close', t`look close at 100 %`],
      ['side', t`the group side by side`],
    ],
    words: t`Side by side, all frames show the same part of the subject.`,
  },
  {
    title: t`Be told`,
    keys: [
      ['review', t`a draft to go through`],
      ['faces', t`faces`],
      ['hints', t`what was noticed`],
    ],
    words: t`Who blinks, speaks or looks away; which frames to keep, and why. It marks nothing by itself.`,
  },
  {
    title: t`Find`,
    keys: [
      ['filter-text', t`filter by words`],
      ['undo', t`undo`],
    ],
    words: t`The filter counts before you choose. Undo goes back as far as you like, also tomorrow.`,
  },
  {
    title: t`Finish`,
    keys: [
      ['wrap-up', t`wrap up`],
      ['keys', t`all keys`],
    ],
    words: t`Write marks to files, deliver, show proofs, set the rejects aside: each with a way back.`,
  },
];

/**
 * Offered once, at the first start: a tour of the keys in under a minute. It never returns by
 * itself.
 */
export function Tour({
  settings,
  commands,
  onSettings,
}: {
  settings: Settings;
  commands: readonly Command[];
  onSettings: (settings: Settings) => void;
}) {
  const [at, setAt] = useState(-1);
  if (settings.toured) return null;
  const end = () => onSettings({ ...settings, toured: true });
  const stop = STOPS[at];
  return (
    <section
      aria-label={t`First steps`}
      // The keys stay with the stage.
      onMouseDown={keepFocus}
      className="flex min-h-11 flex-wrap items-center gap-x-5 gap-y-1 border-b border-line bg-paper px-4 py-1"
    >
      {!stop ? (
        <>
          <span className="flex-1">
            <Trans>New here? Five short steps show what the keys do, in under a minute.</Trans>
          </span>
          <Button onClick={() => setAt(0)}>
            <Trans>Show me</Trans>
          </Button>
        </>
      ) : (
        <>
          <strong className="figures">
            <Trans>
              {at + 1} of {STOPS.length}: {stop.title}
            </Trans>
          </strong>
          {stop.keys.map(([of, words]) => (
            <span key={of} className="flex items-center gap-1.5">
              <Cap of={of} commands={commands} /> {words}
            </span>
          ))}
          <span className="min-w-0 flex-1 text-quiet">{stop.words}</span>
          <Button onClick={() => (at + 1 < STOPS.length ? setAt(at + 1) : end())}>
            {at + 1 < STOPS.length ? t`Next` : t`Done`}
          </Button>
        </>
      )}
      {at + 1 < STOPS.length && (
        <button type="button" className="underline" onClick={end}>
          {stop ? t`skip the rest` : t`no, thanks`}
        </button>
      )}
    </section>
  );
}
