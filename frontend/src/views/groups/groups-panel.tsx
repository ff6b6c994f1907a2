import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import { useEffect } from 'react';

import { inWords, type Filter } from '../../api/client';
import type { Command } from '../../commands/command';
import type { Stage } from '../../commands/stage';
import { Cap } from '../../parts/key-cap';
import { counted, fixed } from '../../texts/numbers';
import { previewLooseness, readLooseness, setLooseness, useGrouping } from '../../state/grouping';
import { useSettings } from '../../state/settings';
import { NO_FILTER, useShoot } from '../../state/shoot';

const BY_HAND = [
  ['split-group', t`Begin a new group at the active frame`],
  ['join-group', t`Join its group with the next one`],
  ['to-group-before', t`Move it, or the selection, to the group before`],
  ['to-group-after', t`Move it, or the selection, to the next group`],
  ['own-group', t`Make a group of it, or of the selection`],
  ['reject-rest', t`Reject the rest of its group, keep the picks`],
  ['link', t`Link the selection as parts of one picture, or take it apart`],
] as const;

const MOVES = /^(Arrow|Page|Home|End)/;

/**
 * How groups are made, and what can be done to them by hand; the sheet and the timeline show it at
 * once.
 */
export function GroupsPanel({
  commands,
  stage,
  onFilter,
}: {
  commands: readonly Command[];
  stage: Stage;
  onFilter: (filter: Filter) => void;
}) {
  const [settings, save] = useSettings();
  const { looseness, number } = useGrouping();
  const frames = useShoot((state) => state.frames.length);
  useEffect(() => {
    readLooseness().catch((error: unknown) => useShoot.getState().say(inWords(error), true));
  }, []);
  return (
    <div className="flex flex-col gap-3">
      <p className="figures">
        <Trans>
          <strong>{counted(number, 'group')}</strong> of {counted(frames, 'frame')}
        </Trans>
        {number > 0 && (
          <span className="text-quiet">
            {' '}
            <Trans>· {fixed(frames / number, 1)} each</Trans>
          </span>
        )}
      </p>
      <div className="grid grid-cols-[auto_1fr_auto] items-center gap-2">
        <span>
          <Trans>tighter</Trans>
        </span>
        <input
          type="range"
          aria-label={t`Tighter or looser groups`}
          aria-valuetext={counted(number, 'group')}
          min={0}
          max={1}
          step={0.01}
          value={looseness}
          onChange={(event) => previewLooseness(Number(event.target.value))}
          onPointerUp={() => void setLooseness(looseness)}
          onKeyUp={(event) => {
            // Not the key that opened this.
            if (MOVES.test(event.key)) void setLooseness(looseness);
          }}
        />
        <span>
          <Trans>looser</Trans>
        </span>
      </div>
      <p className="text-[13px] text-quiet">
        <Trans>
          Looser puts frames together that are less alike, or further apart in time. What you change
          by hand stays, wherever this stands.
        </Trans>{' '}
        {looseness !== 0.5 && (
          <button type="button" className="underline" onClick={() => void setLooseness(0.5)}>
            <Trans>back to the middle</Trans>
          </button>
        )}
      </p>
      <ul className="flex flex-col border-t border-line pt-2">
        {BY_HAND.map(([id, words]) => (
          <li key={id}>
            <button
              type="button"
              className="flex w-full items-center justify-between gap-3 py-1 text-left hover:underline"
              onClick={() => commands.find((command) => command.id === id)?.run(stage)}
            >
              {words} <Cap of={id} commands={commands} />
            </button>
          </li>
        ))}
      </ul>
      <label className="flex items-center gap-2">
        <Trans>linked frames get the keyword</Trans>
        <input
          className="h-7 w-36 rounded border border-line bg-paper px-2"
          aria-label={t`Keyword of linked frames`}
          placeholder={t`none`}
          maxLength={300}
          defaultValue={settings.parts_keyword}
          onKeyDown={(event) => event.key === 'Enter' && event.currentTarget.blur()}
          onBlur={(event) => {
            const parts_keyword = event.target.value.trim();
            if (parts_keyword !== settings.parts_keyword) save({ ...settings, parts_keyword });
          }}
        />
      </label>
      <button
        type="button"
        className="self-start underline"
        onClick={() => onFilter({ ...NO_FILTER, written: 'unpicked' })}
      >
        <Trans>show groups without a pick</Trans>
      </button>
    </div>
  );
}
