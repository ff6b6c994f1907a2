import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import { Settings2 } from 'lucide-react';
import { Popover } from 'radix-ui';
import { useEffect } from 'react';
import { Link } from 'react-router';

import type { Bringing, Settings, Shoot } from '../../api/client';
import { SORTS } from '../../commands/looking';
import type { View } from '../../commands/stage';
import { isRunning, useBringings } from '../../parts/bringings';
import { SharedSign } from '../../parts/shared-sign';
import { isEmpty, useShoot } from '../../state/shoot';
import { useTally } from './pace';
import type { Panel } from './use-stage';
import { whole } from '../../parts/numbers';

const VIEWS: readonly { view: View; word: string }[] = [
  { view: 'sheet', word: t`Sheet` },
  { view: 'frame', word: t`Frame` },
  { view: 'side', word: t`Side by side` },
  { view: 'hints', word: t`Hints` },
  { view: 'wrap-up', word: t`Wrap up` },
];
/** A knockout is a way of comparing side by side. */
const lit = (view: View) => (view === 'knockout' ? 'side' : view);
export const ROW_HEIGHTS = [120, 180, 280] as const;

/** Which shoot, which frames of it, how far the indexing is, and the ways of looking. */
export function TopLine({
  shoot,
  view,
  settings,
  filterOpen,
  onView,
  onFilter,
  onSettings,
  onStop,
  onGoOn,
  onFollow,
  onClocks,
  onPanel,
  groups,
}: {
  shoot: Shoot;
  view: View;
  settings: Settings;
  /** the button that opens what there is to groups */
  groups: React.ReactNode;
  filterOpen: boolean;
  onView: (view: View) => void;
  onFilter: () => void;
  onSettings: (settings: Settings) => void;
  onStop: () => void;
  onGoOn: () => void;
  onFollow: () => void;
  onClocks: () => void;
  onPanel: (panel: Panel) => void;
}) {
  const found = useShoot((state) => state.found);
  const filter = useShoot((state) => state.filter);
  const filterOn = useShoot((state) => state.filterOn);
  const coming = useComing(shoot.id);
  return (
    <header className="flex h-11 shrink-0 items-center gap-4 border-b border-line bg-chrome px-4 whitespace-nowrap max-[1100px]:gap-2.5">
      <h1 className="max-w-60 min-w-16 truncate text-base font-bold">
        <Link to="/" title={t`All shoots`}>
          {shoot.name}
        </Link>
      </h1>
      <button
        type="button"
        aria-expanded={filterOpen}
        onClick={onFilter}
        className="figures flex min-w-24 items-baseline gap-2 overflow-hidden"
        title={t`Filter (E)`}
      >
        <span
          className={`truncate border-b-2 ${!isEmpty(filter) && filterOn ? 'border-accent font-semibold' : 'border-quiet/40'}`}
        >
          {found?.words ?? t`All frames`}
        </span>
        <Place />
        {!isEmpty(filter) && !filterOn && (
          <span className="text-quiet">
            <Trans>(filter off, Z)</Trans>
          </span>
        )}
      </button>
      <Tally target={shoot.keep_target} onOpen={() => onPanel('pace')} />
      {groups}
      <Progress
        shoot={shoot}
        brief={!!coming || view === 'side' || view === 'knockout'}
        onStop={onStop}
        onGoOn={onGoOn}
      />
      {coming && <Coming bringing={coming} />}
      {settings.follow_newest && (
        <button
          type="button"
          aria-pressed="true"
          title={t`Stop following the newest frame (Shift+N)`}
          className="rounded border border-ink px-2 py-0.5"
          onClick={onFollow}
        >
          <Trans>newest ▸</Trans>
        </button>
      )}
      <SharedSign />
      <Said />
      <nav aria-label={t`Ways of looking`} className="flex shrink-0 items-center gap-1">
        {VIEWS.map((one) => (
          <button
            key={one.view}
            type="button"
            aria-current={lit(view) === one.view ? 'page' : undefined}
            onClick={() => onView(one.view)}
            className={`rounded px-2.5 py-1 ${lit(view) === one.view ? 'bg-ink text-paper' : 'text-quiet hover:text-ink'}`}
          >
            {one.word}
          </button>
        ))}
        <Popover.Root>
          <Popover.Trigger
            aria-label={t`Looks`}
            className="ml-1 rounded p-1.5 text-quiet hover:text-ink"
          >
            <Settings2 size={18} />
          </Popover.Trigger>
          <Popover.Portal>
            <Popover.Content
              aria-label={t`Looks`}
              // The keys belong to the stage again, not to the button that opened this.
              onCloseAutoFocus={(event) => event.preventDefault()}
              align="end"
              sideOffset={8}
              className="z-40 w-80 rounded-lg border border-line bg-chrome p-4 shadow-xl"
            >
              <Looks
                settings={settings}
                onSettings={onSettings}
                onFollow={onFollow}
                onClocks={onClocks}
                onPanel={onPanel}
              />
            </Popover.Content>
          </Popover.Portal>
        </Popover.Root>
      </nav>
    </header>
  );
}

/** How far the cull is, in short. */
function Tally({ target, onOpen }: { target: number | null; onOpen: () => void }) {
  const { frames, undecided, picks } = useTally();
  return (
    <button
      type="button"
      title={t`How far the cull is`}
      className="figures shrink-0 border-b-2 border-quiet/40 text-quiet hover:text-ink"
      onClick={onOpen}
    >
      <Trans>
        {whole(frames - undecided)}/{whole(frames)} decided · {picks}
      </Trans>
      {target !== null && `/${target}`} <Trans>kept</Trans>
    </button>
  );
}

/** "88 of 214" in frame view, "214 of 640" in the sheet. */
function Place() {
  const found = useShoot((state) => state.found);
  const at = useShoot((state) =>
    state.active === null ? -1 : state.visible.indexOf(state.active),
  );
  if (!found) return null;
  return (
    <span className="truncate text-quiet">
      {at >= 0 && t`frame ${at + 1} of `}
      {whole(found.shown)}
      {found.shown !== found.total && t`, ${whole(found.total)} in all`}
    </span>
  );
}

function Progress({
  shoot,
  brief,
  onStop,
  onGoOn,
}: {
  shoot: Shoot;
  brief: boolean;
  onStop: () => void;
  onGoOn: () => void;
}) {
  const { tally, status } = shoot;
  const { frames, shown, done, failed, faces } = tally;
  // Pictures first; faces come behind, and have a progress of their own.
  const behind = done + failed >= frames;
  if (behind && (faces >= done || !(status.running || status.stopped))) return null;
  if (behind) {
    return (
      <span
        className="figures flex shrink-0 items-center gap-2 text-quiet"
        title={t`Looking for faces: ${faces} of ${done}`}
      >
        <progress
          className="h-1.5 w-14"
          max={done}
          value={faces}
          aria-label={t`Looking for faces: ${faces} of ${done}`}
        />
        <Trans>faces</Trans>
        <StopOrGoOn status={status} onStop={onStop} onGoOn={onGoOn} />
      </span>
    );
  }
  const words = t`${frames} found, ${shown} shown, ${done} analysed${failed ? t`, ${failed} failed` : ''}`;
  return (
    <span className="figures flex items-center gap-2 text-quiet">
      <progress
        className="h-1.5 w-20"
        max={frames}
        value={done + failed}
        aria-label={t`Indexing: ${words}`}
      />
      {brief ? (
        t`${done} analysed`
      ) : (
        <>
          <span className="max-[1440px]:hidden">{words}</span>
          <span className="min-[1441px]:hidden">
            <Trans>
              {done} of {frames} analysed
            </Trans>
          </span>
        </>
      )}
      <StopOrGoOn status={status} onStop={onStop} onGoOn={onGoOn} />
    </span>
  );
}

function StopOrGoOn({
  status,
  onStop,
  onGoOn,
}: {
  status: Shoot['status'];
  onStop: () => void;
  onGoOn: () => void;
}) {
  if (status.running)
    return (
      <button type="button" className="underline" onClick={onStop}>
        <Trans>stop</Trans>
      </button>
    );
  return status.stopped ? (
    <button type="button" className="underline" onClick={onGoOn}>
      <Trans>go on</Trans>
    </button>
  ) : null;
}

/** What became of bringings-in is said once in each window; these were. */
const told = new Set<string>();
const NEWS_S = 60;

/** The card that is being brought into this shoot; what became of it is said at the end. */
function useComing(shootId: number): Bringing | undefined {
  const { data, dataUpdatedAt } = useBringings();
  const here = data?.find((one) => one.shoot_id === shootId);
  const running = !!here && isRunning(here);
  useEffect(() => {
    if (!here?.ended_at || running || dataUpdatedAt / 1000 - here.ended_at > NEWS_S) return;
    const news = `${here.id} ${here.ended_at}`;
    if (told.has(news)) return;
    told.add(news);
    // What is not well stays in the notices until it is.
    if (here.safe) useShoot.getState().say(here.report);
  }, [running, here, dataUpdatedAt]);
  return running ? here : undefined;
}

function Coming({ bringing }: { bringing: Bringing }) {
  return (
    <Link to="/" className="figures flex items-center gap-2 text-quiet" title={t`All shoots`}>
      <progress
        className="h-1.5 w-20"
        max={Math.max(1, bringing.to_copy)}
        value={bringing.copied}
        aria-label={t`Brought in`}
      />
      <Trans>
        {bringing.done + bringing.already_there} of {bringing.files} copied
      </Trans>
    </Link>
  );
}

const SAID_MS = 5000;
const LONG = 26; // characters; more of them stand in two or three small lines

/** What just happened, beside the picture, never over it. */
function Said() {
  const notice = useShoot((state) => state.notice);
  const hush = useShoot((state) => state.hush);
  const selected = useShoot((state) => state.selection.length);
  useEffect(() => {
    if (!notice) return;
    // What went wrong stays until something else is said.
    const timer = setTimeout(hush, notice.wrong ? 60_000 : SAID_MS);
    return () => clearTimeout(timer);
  }, [notice, hush]);
  const long = (notice?.text.length ?? 0) > LONG;
  return (
    <span
      role="status"
      title={notice?.text}
      className={`figures min-w-0 flex-1 text-right ${long ? 'line-clamp-3 text-[12.5px] leading-[1.1] whitespace-normal' : 'truncate'} ${notice?.wrong ? 'font-bold text-wrong' : 'text-quiet'}`}
    >
      {notice?.text ?? (selected ? t`${selected} selected` : '')}
    </span>
  );
}

function Looks({
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
          [String(ROW_HEIGHTS[0]), 'small'],
          [String(ROW_HEIGHTS[1]), 'middle'],
          [String(ROW_HEIGHTS[2]), 'large'],
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
      <div className="flex flex-wrap gap-x-4 gap-y-1">
        <Popover.Close className="underline" onClick={() => onPanel('way')}>
          <Trans>First pass …</Trans>
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
        {choices.map(([one, word]) => (
          <button
            key={one}
            type="button"
            aria-pressed={one === value}
            onClick={() => onChange(one)}
            className={`rounded border px-2 py-0.5 ${one === value ? 'border-ink bg-ink text-paper' : 'border-line bg-paper'}`}
          >
            {word}
          </button>
        ))}
      </span>
    </div>
  );
}
