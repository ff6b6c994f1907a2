import { Settings2 } from 'lucide-react';
import { Popover } from 'radix-ui';
import { useEffect } from 'react';
import { Link } from 'react-router';

import type { Bringing, Settings, Shoot } from '../../api/client';
import { SORTS } from '../../commands/looking';
import type { View } from '../../commands/stage';
import { isRunning, useBringings } from '../../parts/bringings';
import { isEmpty, useShoot } from '../../state/shoot';
import { useTally } from './pace';
import type { Panel } from './use-stage';

const VIEWS: readonly { view: View; word: string }[] = [
  { view: 'sheet', word: 'Sheet' },
  { view: 'frame', word: 'Frame' },
  { view: 'side', word: 'Side by side' },
  { view: 'hints', word: 'Hints' },
  { view: 'wrap-up', word: 'Wrap up' },
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
        <Link to="/" title="All shoots">
          {shoot.name}
        </Link>
      </h1>
      <button
        type="button"
        aria-expanded={filterOpen}
        onClick={onFilter}
        className="figures flex min-w-24 items-baseline gap-2 overflow-hidden"
        title="Filter (E)"
      >
        <span
          className={`truncate border-b-2 ${!isEmpty(filter) && filterOn ? 'border-accent font-semibold' : 'border-quiet/40'}`}
        >
          {found?.words ?? 'All frames'}
        </span>
        <Place />
        {!isEmpty(filter) && !filterOn && <span className="text-quiet">(filter off, Z)</span>}
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
          title="Stop following the newest frame (Shift+N)"
          className="rounded border border-ink px-2 py-0.5"
          onClick={onFollow}
        >
          newest ▸
        </button>
      )}
      <Said />
      <nav aria-label="Ways of looking" className="flex shrink-0 items-center gap-1">
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
            aria-label="Looks"
            className="ml-1 rounded p-1.5 text-quiet hover:text-ink"
          >
            <Settings2 size={18} />
          </Popover.Trigger>
          <Popover.Portal>
            <Popover.Content
              aria-label="Looks"
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
      title="How far the cull is"
      className="figures shrink-0 border-b-2 border-quiet/40 text-quiet hover:text-ink"
      onClick={onOpen}
    >
      {(frames - undecided).toLocaleString('en')}/{frames.toLocaleString('en')} decided · {picks}
      {target !== null && `/${target}`} kept
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
      {at >= 0 && `frame ${at + 1} of `}
      {found.shown.toLocaleString('en')}
      {found.shown !== found.total && `, ${found.total.toLocaleString('en')} in all`}
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
      <span className="figures flex items-center gap-2 text-quiet">
        <progress
          className="h-1.5 w-14"
          max={done}
          value={faces}
          aria-label={`Looking for faces: ${faces} of ${done}`}
        />
        {brief ? `faces ${faces}` : `faces ${faces} of ${done}`}
        <StopOrGoOn status={status} onStop={onStop} onGoOn={onGoOn} />
      </span>
    );
  }
  const words = `${frames} found, ${shown} shown, ${done} analysed${failed ? `, ${failed} failed` : ''}`;
  return (
    <span className="figures flex items-center gap-2 text-quiet">
      <progress
        className="h-1.5 w-20"
        max={frames}
        value={done + failed}
        aria-label={`Indexing: ${words}`}
      />
      {brief ? `${done} analysed` : words}
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
        stop
      </button>
    );
  return status.stopped ? (
    <button type="button" className="underline" onClick={onGoOn}>
      go on
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
    <Link to="/" className="figures flex items-center gap-2 text-quiet" title="All shoots">
      <progress
        className="h-1.5 w-20"
        max={Math.max(1, bringing.to_copy)}
        value={bringing.copied}
        aria-label="Brought in"
      />
      {bringing.done + bringing.already_there} of {bringing.files} copied
    </Link>
  );
}

const SAID_MS = 5000;

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
  return (
    <span
      role="status"
      className={`figures min-w-0 flex-1 truncate text-right ${notice?.wrong ? 'font-bold text-reject' : 'text-quiet'}`}
    >
      {notice?.text ?? (selected ? `${selected} selected` : '')}
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
        Sorted by
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
        legend="Rows"
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
        aria-label="Row height"
        min={80}
        max={480}
        step={4}
        value={settings.row_height}
        onChange={(event) => onSettings({ ...settings, row_height: Number(event.target.value) })}
      />
      <Choices
        legend="Surround"
        value={settings.surround}
        choices={[
          ['dark', 'dark'],
          ['middle', 'middle'],
          ['light', 'light'],
        ]}
        onChange={(surround) => onSettings({ ...settings, surround })}
      />
      <Choices
        legend="Lines"
        value={settings.theme}
        choices={[
          ['light', 'light'],
          ['dark', 'dark'],
        ]}
        onChange={(theme) => onSettings({ ...settings, theme })}
      />
      <Choices
        legend="When a frame comes in"
        value={settings.follow_newest ? 'go' : 'stay'}
        choices={[
          ['stay', 'stay'],
          ['go', 'go to it'],
        ]}
        onChange={(wanted) => {
          if ((wanted === 'go') !== settings.follow_newest) onFollow();
        }}
      />
      <Choices
        legend="Magnifying glass"
        value={settings.magnifier === 1 ? '100 %' : '200 %'}
        choices={[
          ['100 %', '100 %'],
          ['200 %', '200 %'],
        ]}
        onChange={(value) => onSettings({ ...settings, magnifier: value === '100 %' ? 1 : 2 })}
      />
      <div className="flex flex-wrap gap-x-4 gap-y-1">
        <Popover.Close className="underline" onClick={() => onPanel('way')}>
          First pass …
        </Popover.Close>
        <Popover.Close className="underline" onClick={() => onPanel('labels')}>
          Labels …
        </Popover.Close>
        <Popover.Close className="underline" onClick={() => onPanel('key-editor')}>
          Keys …
        </Popover.Close>
        <Popover.Close className="underline" onClick={onClocks}>
          Cameras’ clocks …
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
