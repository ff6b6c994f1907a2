import { Popover } from 'radix-ui';

import type { AfterMark, Settings } from '../../api/client';
import { LABEL_KEYS, type Stage } from '../../commands/registry';
import { KeyCap } from '../../parts/key-cap';
import { LabelSign } from '../../parts/marks';
import { useLabels } from '../../state/settings';
import { useShoot } from '../../state/shoot';

export const AFTER_WORDS: Record<AfterMark, string> = {
  stay: 'stay',
  next: 'next frame',
  next_undecided: 'next undecided',
  next_group: 'next group when decided',
};
export const AFTER_ORDER: readonly AfterMark[] = ['stay', 'next', 'next_undecided', 'next_group'];

type OnMark = Stage['mark'];

/** A button pressed with the pointer leaves the keys to the stage. */
const keepFocus = (event: React.MouseEvent) => event.preventDefault();

/** The marks with their keys, what happens after a mark, and what undo would undo. */
export function BottomLine({
  settings,
  onSettings,
  onUndo,
  onMark,
}: {
  settings: Settings;
  onSettings: (settings: Settings) => void;
  onUndo: () => void;
  /** Undefined where nothing can be marked. */
  onMark: OnMark | undefined;
}) {
  const undo = useShoot((state) => state.undo);
  return (
    <footer className="flex h-[46px] shrink-0 items-center gap-3 border-t border-line bg-chrome px-4 whitespace-nowrap">
      {onMark && <MarkKeys settings={settings} onSettings={onSettings} onMark={onMark} />}
      <span className="flex-1" />
      <button
        type="button"
        className="flex max-w-[300px] min-w-0 shrink items-center gap-1.5"
        disabled={!undo}
        onClick={onUndo}
      >
        <KeyCap chord="Ctrl+Z" />
        <span className="truncate">{undo ? `undo “${undo}”` : 'nothing to undo'}</span>
      </button>
      <span className="flex items-center gap-1.5">
        <KeyCap chord="?" />
      </span>
    </footer>
  );
}

function MarkKeys({
  settings,
  onSettings,
  onMark,
}: {
  settings: Settings;
  onSettings: (settings: Settings) => void;
  onMark: OnMark;
}) {
  const labels = useLabels();
  const decision = settings.after.decision;
  return (
    <>
      {(
        [
          ['J', 'reject', 'reject'],
          ['K', 'undecided', 'undecided'],
          ['L', 'pick', 'pick'],
        ] as const
      ).map(([key, word, value]) => (
        <button
          key={key}
          type="button"
          className="flex items-center gap-1.5"
          onMouseDown={keepFocus}
          onClick={() => onMark({ decision: value })}
        >
          <KeyCap chord={key} /> {word}
        </button>
      ))}
      <span className="h-5 border-l border-line" />
      <span className="flex items-center gap-0.5">
        {[1, 2, 3, 4, 5].map((stars) => (
          <button
            key={stars}
            type="button"
            aria-label={stars === 1 ? '1 star' : `${stars} stars`}
            onMouseDown={keepFocus}
            onClick={() => onMark({ stars })}
          >
            <KeyCap chord={String(stars)} />
          </button>
        ))}
        <span className="ml-1">stars</span>
      </span>
      <span className="h-5 border-l border-line" />
      <span className="flex items-center gap-2">
        {labels.slice(0, LABEL_KEYS.length).map((label, n) => (
          <button
            key={label.letter}
            type="button"
            title={`${label.name}: ${label.meaning}`}
            className="flex items-center gap-1"
            onMouseDown={keepFocus}
            onClick={() => onMark({ label: label.letter })}
          >
            <KeyCap chord={LABEL_KEYS[n]!} />
            <LabelSign label={label} size={16} />
          </button>
        ))}
      </span>
      <span className="h-5 border-l border-line" />
      <Popover.Root>
        <Popover.Trigger className="flex items-center gap-1.5">
          <span>
            then <strong>{AFTER_WORDS[decision]}</strong>
          </span>
          <KeyCap chord="T" />
        </Popover.Trigger>
        <Popover.Portal>
          <Popover.Content
            aria-label="After a mark"
            onCloseAutoFocus={(event) => event.preventDefault()}
            side="top"
            align="start"
            sideOffset={10}
            className="z-40 w-80 rounded-lg border border-line bg-chrome p-4 shadow-xl"
          >
            <p className="mb-2 font-bold">After a mark on one frame, go to</p>
            {(['decision', 'stars', 'label'] as const).map((kind) => (
              <label key={kind} className="flex items-center justify-between py-1">
                after {kind === 'stars' ? 'stars' : `a ${kind}`}
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
