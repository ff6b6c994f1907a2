import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import { Captions, History as HistoryIcon, Info, Search, Tags, Undo2 } from 'lucide-react';
import { Popover } from 'radix-ui';

import type { AfterMark, Settings, Shoot } from '../../api/client';
import { appliesIn, type Command } from '../../commands/command';
import type { Stage } from '../../commands/stage';
import { Cap, useTitle } from '../../parts/key-cap';
import { LabelSign, PickSign, RejectSign } from '../../parts/marks';
import { keepFocus } from '../../parts/keep-focus';
import { useLabels } from '../../state/settings';
import { useShoot } from '../../state/shoot';
import type { Panel } from './use-stage';
import { WAY_WORDS } from './way';
import { counted } from '../../texts/numbers';

const AFTER_KINDS = {
  decision: t`after a decision`,
  stars: t`after stars`,
  label: t`after a label`,
};

export const AFTER_WORDS: Record<AfterMark, string> = {
  stay: t`stay`,
  next: t`next frame`,
  next_undecided: t`next undecided`,
  next_group: t`next group when decided`,
};
export const AFTER_ORDER: readonly AfterMark[] = ['stay', 'next', 'next_undecided', 'next_group'];

type OnMark = Stage['mark'];

/** As large as a finger. */
const BY_TOUCH =
  'pointer-coarse:flex pointer-coarse:min-h-11 pointer-coarse:min-w-9 pointer-coarse:items-center pointer-coarse:justify-center';

/** The marks with their keys, what happens after a mark, and what undo would undo. */
export function BottomLine({
  shoot,
  settings,
  commands,
  stage,
  onSettings,
  onUndo,
  onPanel,
  onMark,
}: {
  shoot: Shoot;
  settings: Settings;
  commands: readonly Command[];
  stage: Stage;
  onSettings: (settings: Settings) => void;
  onUndo: () => void;
  onPanel: (panel: Panel) => void;
  /** Undefined where nothing can be marked. */
  onMark: OnMark | undefined;
}) {
  const undo = useShoot((state) => state.undo);
  const title = useTitle();
  return (
    <footer className="flex h-[46px] shrink-0 items-center gap-2.5 overflow-hidden border-t border-line bg-chrome px-3 whitespace-nowrap max-[900px]:h-auto max-[900px]:flex-wrap max-[900px]:gap-y-1 max-[900px]:py-1 pointer-coarse:h-auto pointer-coarse:flex-wrap pointer-coarse:gap-x-1.5 pointer-coarse:gap-y-1 pointer-coarse:py-1">
      {onMark && (
        <MarkKeys
          shoot={shoot}
          settings={settings}
          commands={commands}
          onSettings={onSettings}
          onMark={onMark}
          onPanel={onPanel}
        />
      )}
      <span className="flex-1" />
      <button
        type="button"
        className={`flex max-w-72 min-w-24 shrink items-center gap-1.5 ${BY_TOUCH} pointer-coarse:disabled:text-quiet`}
        disabled={!undo}
        title={undo ? title(t`Undo “${undo}”`, 'undo') : undefined}
        onClick={onUndo}
      >
        <span className="pointer-coarse:hidden">
          <Cap of="undo" commands={commands} />
        </span>
        <Undo2 size={19} className="hidden pointer-coarse:block" />
        <span className="truncate pointer-coarse:max-[1000px]:sr-only">
          {undo ? t`undo “${undo}”` : t`nothing to undo`}
        </span>
      </button>
      <button
        type="button"
        hidden={!commands.some(({ id }) => id === 'history')}
        title={title(t`History`, 'history')}
        aria-label={t`History`}
        className={`text-quiet hover:text-ink ${BY_TOUCH}`}
        onClick={() => onPanel('history')}
      >
        <HistoryIcon size={17} />
      </button>
      <Sign of="captions" inMenu words={t`Captions and rights`} commands={commands} stage={stage}>
        <Captions size={17} />
      </Sign>
      <Sign
        of="all-facts"
        inMenu
        words={t`All facts of this frame`}
        commands={commands}
        stage={stage}
      >
        <Info size={17} />
      </Sign>
      <Sign
        of="search"
        words={t`Search commands, frames, filters`}
        commands={commands}
        stage={stage}
      >
        <Search size={17} />
      </Sign>
      <button
        type="button"
        title={title(t`Keys`, 'keys')}
        aria-label={t`Keys`}
        className={`${BY_TOUCH} pointer-coarse:max-[1000px]:hidden`}
        onClick={() => onPanel('keys')}
      >
        <Cap of="keys" commands={commands} />
      </button>
    </footer>
  );
}

/** A command as a small sign; nothing where it doesn't apply. */
function Sign({
  of,
  words,
  inMenu = false,
  commands,
  stage,
  children,
}: {
  of: string;
  words: string;
  /** the menu of a frame offers it, too: on a small touch screen it stands there alone */
  inMenu?: boolean;
  commands: readonly Command[];
  stage: Stage;
  children: React.ReactNode;
}) {
  const title = useTitle();
  const command = commands.find(({ id }) => id === of);
  if (!command || !appliesIn(command, stage.view)) return null;
  return (
    <button
      type="button"
      title={title(words, of)}
      aria-label={words}
      className={`flex items-center justify-center text-quiet hover:text-ink ${BY_TOUCH} ${inMenu ? 'pointer-coarse:max-[1000px]:hidden' : ''}`}
      onMouseDown={keepFocus}
      onClick={() => command.run(stage)}
    >
      {children}
    </button>
  );
}

const DECISIONS = [
  ['reject', t`reject`, 'reject', <RejectSign key="reject" size={24} />],
  [
    'undecide',
    t`undecided`,
    'undecided',
    <span key="undecided" className="block size-3.5 rounded-full border-2 border-ink" />,
  ],
  ['pick', t`pick`, 'pick', <PickSign key="pick" size={24} />],
] as const;

function MarkKeys({
  shoot,
  settings,
  commands,
  onSettings,
  onMark,
  onPanel,
}: {
  shoot: Shoot;
  settings: Settings;
  commands: readonly Command[];
  onSettings: (settings: Settings) => void;
  onMark: OnMark;
  onPanel: (panel: Panel) => void;
}) {
  const labels = useLabels();
  const title = useTitle();
  const decision = settings.after.decision;
  return (
    <>
      {/* Under a thumb, the three decisions are as wide as the hand that holds the screen. */}
      <span className="flex items-center gap-2.5 pointer-coarse:order-last pointer-coarse:w-full pointer-coarse:gap-2">
        {DECISIONS.map(([id, word, value, sign]) => (
          <button
            key={id}
            type="button"
            data-decide={value}
            className="flex items-center gap-1.5 pointer-coarse:h-14 pointer-coarse:flex-1 pointer-coarse:justify-center pointer-coarse:rounded-lg pointer-coarse:border pointer-coarse:border-line pointer-coarse:bg-paper pointer-coarse:text-base pointer-coarse:font-semibold"
            onMouseDown={keepFocus}
            onClick={() => onMark({ decision: value })}
          >
            <span className="pointer-coarse:hidden">
              <Cap of={id} commands={commands} />
            </span>
            <span className="hidden pointer-coarse:inline">{sign}</span>
            <span className="max-[1100px]:sr-only pointer-coarse:not-sr-only">{word}</span>
          </button>
        ))}
      </span>
      <span className="h-5 border-l border-line pointer-coarse:hidden" />
      <span className="flex items-center gap-0.5">
        {[1, 2, 3, 4, 5].map((stars) => (
          <button
            key={stars}
            type="button"
            aria-label={counted(stars, 'star')}
            className={BY_TOUCH}
            onMouseDown={keepFocus}
            onClick={() => onMark({ stars })}
          >
            <Cap of={`stars-${stars}`} commands={commands} />
          </button>
        ))}
        <span className="ml-1 max-[1100px]:hidden">
          <Trans>stars</Trans>
        </span>
      </span>
      <span className="h-5 border-l border-line pointer-coarse:hidden" />
      <span className="flex items-center gap-2 pointer-coarse:gap-0">
        {labels.map((label, n) => (
          <button
            key={label.letter}
            type="button"
            title={title(`${label.name}: ${label.meaning}`, `label-${n + 1}`)}
            className={`flex items-center gap-1 ${BY_TOUCH}`}
            onMouseDown={keepFocus}
            onClick={() => onMark({ label: label.letter })}
          >
            {/* More than five: their keys are on the key sheet, there is no room here. */}
            {labels.length <= 5 && (
              <span className="max-[1000px]:hidden pointer-coarse:hidden">
                <Cap of={`label-${n + 1}`} commands={commands} />
              </span>
            )}
            <LabelSign label={label} size={labels.length <= 5 ? 16 : 19} />
          </button>
        ))}
        <button
          type="button"
          title={title(t`Labels and their meanings`, 'labels')}
          aria-label={t`Labels and their meanings`}
          className={`text-quiet hover:text-ink ${BY_TOUCH}`}
          onClick={() => onPanel('labels')}
        >
          <Tags size={16} />
        </button>
      </span>
      <span className="h-5 border-l border-line pointer-coarse:hidden" />
      <Popover.Root>
        <Popover.Trigger className="flex items-center gap-1.5 pointer-coarse:min-h-11">
          <span>
            <span className="max-[1100px]:hidden">
              <Trans>then</Trans>
            </span>{' '}
            <strong>{AFTER_WORDS[decision]}</strong>
          </span>
          <span className="pointer-coarse:hidden">
            <Cap of="after" commands={commands} />
          </span>
        </Popover.Trigger>
        <Popover.Portal>
          <Popover.Content
            aria-label={t`After a mark`}
            onCloseAutoFocus={(event) => event.preventDefault()}
            side="top"
            align="start"
            sideOffset={10}
            className="z-40 w-80 rounded-lg border border-line bg-chrome p-4 shadow-xl"
          >
            <p className="mb-2">
              <Trans>
                You are <strong>{WAY_WORDS[shoot.way]}</strong>.
              </Trans>{' '}
              <Popover.Close className="underline" onClick={() => onPanel('way')}>
                <Trans>What is that?</Trans>
              </Popover.Close>
            </p>
            <p className="mb-2 font-bold">
              <Trans>After a mark on one frame, go to</Trans>
            </p>
            {(['decision', 'stars', 'label'] as const).map((kind) => (
              <label key={kind} className="flex items-center justify-between py-1">
                {AFTER_KINDS[kind]}
                <select
                  className="h-8 rounded border border-line bg-paper px-1"
                  value={settings.after[kind]}
                  onChange={(event) =>
                    onSettings({
                      ...settings,
                      after: { ...settings.after, [kind]: event.target.value as AfterMark },
                    })
                  }
                >
                  {AFTER_ORDER.map((value) => (
                    <option key={value} value={value}>
                      {AFTER_WORDS[value]}
                    </option>
                  ))}
                </select>
              </label>
            ))}
          </Popover.Content>
        </Popover.Portal>
      </Popover.Root>
    </>
  );
}
