import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import { Popover } from 'radix-ui';

import type { Settings } from '../../api/client';
import { SORTS } from '../../commands/looking';
import { useGuest } from '../../state/sharing';
import type { Panel } from '../shoot/use-stage';

const ROW_HEIGHTS = [120, 180, 280] as const;

/** How the shoot looks, and what else can be set. */
export function Looks({
  settings,
  onSettings,
  onFollow,
  onClocks,
  onPanel,
}: {
  settings: Settings;
  onSettings: (settings: Settings) => void;
  onFollow: () => void;
  onClocks: () => void;
  onPanel: (panel: Panel) => void;
}) {
  const guest = useGuest();
  return (
    <div className="flex flex-col gap-3">
      <label className="flex items-center justify-between">
        <Trans>Sorted by</Trans>
        <select
          className="h-8 rounded border border-line bg-paper px-1"
          value={settings.sort}
          onChange={(event) =>
            onSettings({ ...settings, sort: event.target.value as Settings['sort'] })
          }
        >
          {SORTS.map(([order, words]) => (
            <option key={order} value={order}>
              {words}
            </option>
          ))}
        </select>
      </label>
      <Choices
        legend={t`Rows`}
        value={String(settings.row_height)}
        choices={[
          [String(ROW_HEIGHTS[0]), t`small`],
          [String(ROW_HEIGHTS[1]), t`middle`],
          [String(ROW_HEIGHTS[2]), t`large`],
        ]}
        onChange={(value) => onSettings({ ...settings, row_height: Number(value) })}
      />
      <input
        type="range"
        aria-label={t`Row height`}
        min={80}
        max={480}
        step={4}
        value={settings.row_height}
        onChange={(event) => onSettings({ ...settings, row_height: Number(event.target.value) })}
      />
      <Choices
        legend={t`Names under the frames`}
        value={settings.names_shown ? 'on' : 'off'}
        choices={[
          ['off', t`none`],
          ['on', t`shown`],
        ]}
        onChange={(wanted) => onSettings({ ...settings, names_shown: wanted === 'on' })}
      />
      <Choices
        legend={t`Surround`}
        value={settings.surround}
        choices={[
          ['dark', t`dark`],
          ['middle', t`middle`],
          ['light', t`light`],
        ]}
        onChange={(surround) => onSettings({ ...settings, surround })}
      />
      <Choices
        legend={t`Lines`}
        value={settings.theme}
        choices={[
          ['light', t`light`],
          ['dark', t`dark`],
        ]}
        onChange={(theme) => onSettings({ ...settings, theme })}
      />
      <Choices
        legend={t`When a frame comes in`}
        value={settings.follow_newest ? 'go' : 'stay'}
        choices={[
          ['stay', t`stay`],
          ['go', t`go to it`],
        ]}
        onChange={(wanted) => {
          if ((wanted === 'go') !== settings.follow_newest) onFollow();
        }}
      />
      <Choices
        legend={t`Magnifying glass`}
        value={settings.magnifier === 1 ? '100 %' : '200 %'}
        choices={[
          ['100 %', '100 %'],
          ['200 %', '200 %'],
        ]}
        onChange={(value) => onSettings({ ...settings, magnifier: value === '100 %' ? 1 : 2 })}
      />
      <div className={guest ? 'hidden' : 'flex flex-wrap gap-x-4 gap-y-1'}>
        <Popover.Close className="underline" onClick={() => onPanel('way')}>
          <Trans>First pass …</Trans>
        </Popover.Close>
        <Popover.Close className="underline" onClick={() => onPanel('share')}>
          <Trans>Share with guests …</Trans>
        </Popover.Close>
        <Popover.Close className="underline" onClick={() => onPanel('people')}>
          <Trans>Who is in it …</Trans>
        </Popover.Close>
        <Popover.Close className="underline" onClick={() => onPanel('labels')}>
          <Trans>Labels …</Trans>
        </Popover.Close>
        <Popover.Close className="underline" onClick={() => onPanel('key-editor')}>
          <Trans>Keys …</Trans>
        </Popover.Close>
        <Popover.Close className="underline" onClick={onClocks}>
          <Trans>Cameras’ clocks …</Trans>
        </Popover.Close>
      </div>
    </div>
  );
}

function Choices<T extends string>({
  legend,
  value,
  choices,
  onChange,
}: {
  legend: string;
  value: T;
  choices: readonly (readonly [T, string])[];
  onChange: (value: T) => void;
}) {
  return (
    <div role="group" aria-label={legend} className="flex items-center justify-between">
      {legend}
      <span className="flex gap-1">
        {choices.map(([choice, word]) => (
          <button
            key={choice}
            type="button"
            aria-pressed={choice === value}
            onClick={() => onChange(choice)}
            className={`rounded border px-2 py-0.5 ${choice === value ? 'border-ink bg-ink text-paper' : 'border-line bg-paper'}`}
          >
            {word}
          </button>
        ))}
      </span>
    </div>
  );
}
