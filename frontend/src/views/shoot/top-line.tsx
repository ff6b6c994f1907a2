import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import { Settings2 } from 'lucide-react';
import { Popover } from 'radix-ui';
import { useEffect } from 'react';
import { Link } from 'react-router';

import type { Settings, Shoot } from '../../api/client';
import type { View } from '../../commands/stage';
import { useTitle } from '../../parts/key-cap';
import { keepFocus } from '../../parts/keep-focus';
import { SharedSign } from '../../parts/shared-sign';
import { useGuest } from '../../state/sharing';
import { isEmpty, useShoot } from '../../state/shoot';
import { Looks } from '../settings/looks';
import { Coming, Progress, useComing } from './progress';
import type { Panel } from './use-stage';
import { whole } from '../../texts/numbers';

const VIEWS: readonly { view: View; word: string; command: string }[] = [
  { view: 'sheet', word: t`Sheet`, command: 'back' },
  { view: 'frame', word: t`Frame`, command: 'swap-view' },
  { view: 'side', word: t`Side by side`, command: 'side' },
  { view: 'review', word: t`Review`, command: 'review' },
  { view: 'hints', word: t`Hints`, command: 'hints' },
  { view: 'wrap-up', word: t`Wrap up`, command: 'wrap-up' },
];
/** What guests don't have. */
const OWNERS: ReadonlySet<View> = new Set(['review', 'hints', 'wrap-up']);
/** A knockout is a way of comparing side by side. */
const lit = (view: View) => (view === 'knockout' ? 'side' : view);

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
  const title = useTitle();
  const found = useShoot((state) => state.found);
  const filter = useShoot((state) => state.filter);
  const filterOn = useShoot((state) => state.filterOn);
  const saying = useShoot((state) => !!state.notice || state.selection.length > 0);
  const coming = useComing(shoot.id);
  const guest = useGuest();
  return (
    <header className="relative flex h-11 shrink-0 items-center gap-4 border-b border-line bg-chrome px-4 whitespace-nowrap max-[1100px]:h-auto max-[1100px]:min-h-11 max-[1100px]:flex-wrap max-[1100px]:gap-x-2.5 max-[1100px]:gap-y-0 max-[900px]:px-2 max-[900px]:py-1">
      <h1 className="max-w-60 min-w-16 truncate text-base font-bold max-[1100px]:basis-16">
        <Link to="/" title={t`All shoots`}>
          {shoot.name}
        </Link>
      </h1>
      <button
        type="button"
        aria-expanded={filterOpen}
        onClick={onFilter}
        className="figures flex min-w-24 items-baseline gap-2 overflow-hidden max-[1100px]:basis-36 max-[1100px]:grow"
        title={title(t`Filter`, 'filter')}
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
      <Tally shoot={shoot} onOpen={guest ? undefined : () => onPanel('pace')} />
      {!guest && groups}
      <Progress shoot={shoot} brief={!!coming || saying} onStop={onStop} onGoOn={onGoOn} />
      {coming && <Coming bringing={coming} />}
      {settings.follow_newest && (
        <button
          type="button"
          aria-pressed="true"
          title={title(t`Stop following the newest frame`, 'follow')}
          className="rounded border border-ink px-2 py-0.5"
          onClick={onFollow}
        >
          <Trans>newest ▸</Trans>
        </button>
      )}
      <SharedSign shoot={shoot.id} onOpen={() => onPanel('share')} />
      <Said />
      <nav
        aria-label={t`Ways of looking`}
        className="flex shrink-0 items-center gap-1 max-[1100px]:gap-0 max-[900px]:w-full max-[900px]:shrink max-[900px]:flex-wrap"
      >
        {VIEWS.filter((view) => !guest || !OWNERS.has(view.view)).map((entry) => (
          <button
            key={entry.view}
            type="button"
            aria-current={lit(view) === entry.view ? 'page' : undefined}
            title={title(entry.word, entry.command)}
            onClick={() => onView(entry.view)}
            className={`rounded px-2.5 py-1 max-[1100px]:px-1.5 ${lit(view) === entry.view ? 'bg-ink text-paper' : 'text-quiet hover:text-ink'}`}
          >
            {entry.word}
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
function Tally({ shoot, onOpen }: { shoot: Shoot; onOpen: (() => void) | undefined }) {
  const target = shoot.keep_target;
  const frames = useShoot((state) => state.frames.length);
  const { undecided, pick: picks } = useShoot((state) => state.decided);
  const seen = useShoot((state) => state.seenCount);
  return (
    <button
      type="button"
      title={t`How far the cull is`}
      className="figures shrink-0 border-b-2 border-quiet/40 text-quiet hover:text-ink"
      onClick={onOpen}
      disabled={!onOpen}
    >
      {/* Who weeds out has decided all of them before the first one is looked at. */}
      {shoot.way === 'weed_out' ? (
        <Trans>
          {whole(seen)}/{whole(frames)} looked at · {picks}
        </Trans>
      ) : (
        <Trans>
          {whole(frames - undecided)}/{whole(frames)} decided · {picks}
        </Trans>
      )}
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

const SAID_MS = 5000;

/** What just happened, beside the picture, never over it. */
function Said() {
  const notice = useShoot((state) => state.notice);
  const hush = useShoot((state) => state.hush);
  const selected = useShoot((state) => state.selection.length);
  const title = useTitle();
  useEffect(() => {
    if (!notice) return;
    // What went wrong stays until something else is said.
    const timer = setTimeout(hush, notice.wrong ? 60_000 : SAID_MS);
    return () => clearTimeout(timer);
  }, [notice, hush]);
  return (
    <span
      role="status"
      title={notice?.text}
      className={`figures line-clamp-2 min-w-0 flex-1 text-right text-[12.5px] leading-[1.15] text-balance whitespace-normal ${notice?.wrong ? 'font-bold text-wrong' : 'text-quiet'}`}
    >
      {notice?.text ?? (selected ? t`${selected} selected` : '')}
      {selected > 0 && !notice && (
        <button
          type="button"
          className="ml-2 underline"
          title={title(t`Select nothing`, 'back')}
          onMouseDown={keepFocus}
          onClick={() => useShoot.getState().select([])}
        >
          <Trans>none</Trans>
        </button>
      )}
    </span>
  );
}
