import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import { ContextMenu } from 'radix-ui';
import { useRef, useState, type ReactNode } from 'react';

import type { Label } from '../../api/client';
import { appliesIn, type Command } from '../../commands/command';
import type { Stage } from '../../commands/stage';
import { KeyCap } from '../../parts/key-cap';
import { BOX, ITEM, LINE } from '../../parts/menu';
import { LabelSign } from '../../parts/marks';
import { toggle, useDraft, wantOnly } from '../../state/draft';
import { targets } from '../../state/marking';
import { useShoot } from '../../state/shoot';
import { counted } from '../../texts/numbers';

type Choice = readonly [command: string, words: string];

/** What the menu of a frame offers, in parts; each a command, in words that are short enough. */
const DECISIONS: readonly Choice[] = [
  ['pick', t`Pick`],
  ['undecide', t`Leave undecided`],
  ['reject', t`Reject`],
  ['keep-only', t`Keep only this one of its group`],
];
const LOOKS: readonly Choice[] = [
  ['look-close', t`Look close`],
  ['swap-view', t`Show large, or the sheet`],
  ['side', t`Side by side`],
  ['knockout', t`Knockout`],
  ['alike', t`More like this`],
  ['take-out', t`Take out of view`],
];
const GROUPS: readonly Choice[] = [
  ['select-group', t`Select its group`],
  ['split-group', t`Begin a new group here`],
  ['join-group', t`Join it with the next group`],
  ['own-group', t`Make a group of this`],
  ['link', t`Link as one picture, or take apart`],
];
const TURNS: readonly Choice[] = [
  ['turn-left', t`Turn left`],
  ['turn-right', t`Turn right`],
];
const REST: readonly Choice[] = [
  ['captions', t`Captions and rights`],
  ['all-facts', t`All facts`],
  ['to-folder', t`To a folder …`],
  ['to-program', t`To a program …`],
  ['copy-paths', t`Copy the path`],
];

/**
 * What can be done with a frame, beside the pointer: by the right button, or a finger that stays.
 * The frame under it is meant, or the selection where it is one of it.
 */
export function FrameMenu({
  commands,
  stage,
  labels,
  off,
  children,
}: {
  commands: readonly Command[];
  stage: Stage;
  labels: readonly Label[];
  /** where no frames are */
  off: boolean;
  children: ReactNode;
}) {
  const pressed = useRef<number | null>(null);
  // What was selected when it opened: the frame can join that.
  const [before, setBefore] = useState<readonly number[]>([]);
  const opened = (open: boolean) => {
    const id = pressed.current;
    pressed.current = null;
    if (!open || id === null) return;
    const { selection, choose, go } = useShoot.getState();
    setBefore(selection);
    if (selection.includes(id) || stage.view !== 'sheet') go(id);
    else choose(id, 'only');
  };
  return (
    // Not modal: that would hide the page from who hears it read, though its parts can be reached.
    <ContextMenu.Root modal={false} onOpenChange={opened}>
      <ContextMenu.Trigger
        asChild
        disabled={off}
        onPointerDownCapture={(event) => {
          pressed.current = frameAt(event.target as Element);
        }}
        onContextMenu={(event) => {
          // Where no frame is, there is nothing to offer.
          if (!frameHere(event.target as Element)) event.preventDefault();
        }}
      >
        {children}
      </ContextMenu.Trigger>
      <ContextMenu.Portal>
        {/* Beside the page's landmarks, it is one of its own. */}
        <div role="region" aria-label={t`Menu of a frame`}>
          <Aside />
          <ContextMenu.Content
            className={`${BOX} max-h-[var(--radix-context-menu-content-available-height)] overflow-y-auto`}
            aria-label={t`What can be done with it`}
            // The keys belong to the stage again.
            onCloseAutoFocus={(event) => event.preventDefault()}
          >
            <Items commands={commands} stage={stage} labels={labels} before={before} />
          </ContextMenu.Content>
        </div>
      </ContextMenu.Portal>
    </ContextMenu.Root>
  );
}

/** What a click beside the menu meets: it closes the menu, and does nothing else. */
function Aside() {
  return (
    <div
      aria-hidden="true"
      className="fixed inset-0 z-40"
      onContextMenu={(event) => event.preventDefault()}
    />
  );
}

function frameAt(target: Element): number | null {
  const { frame, shows } = target.closest<HTMLElement>('[data-frame], [data-shows]')?.dataset ?? {};
  const id = frame ?? shows;
  return id === undefined ? null : Number(id);
}

/** Whether a frame is meant: one under the pointer, or the one that fills the stage. */
function frameHere(target: Element): boolean {
  return !!target.closest(
    '[data-frame], [data-shows], [data-testid=photograph], [data-testid=pair]',
  );
}

function Items({
  commands,
  stage,
  labels,
  before,
}: {
  commands: readonly Command[];
  stage: Stage;
  labels: readonly Label[];
  before: readonly number[];
}) {
  const active = useShoot((state) => state.byId.get(state.active ?? -1));
  const selected = useShoot((state) => state.selection.length);
  const here = new Map(
    commands.filter((each) => appliesIn(each, stage.view)).map((each) => [each.id, each]),
  );
  const item = (id: string, words: ReactNode) => {
    const command = here.get(id);
    if (!command) return null;
    return (
      <ContextMenu.Item key={id} className={ITEM} onSelect={() => command.run(stage)}>
        <span className="flex-1">{words}</span>
        {command.keys[0] && <KeyCap chord={command.keys[0]} />}
      </ContextMenu.Item>
    );
  };
  const stars = [0, 1, 2, 3, 4, 5].map((count) =>
    item(`stars-${count}`, count ? counted(count, 'star') : t`No stars`),
  );
  const marks = labels.map((label, n) =>
    item(
      `label-${n + 1}`,
      <span className="flex items-center gap-2">
        <LabelSign label={label} size={16} /> {label.name}
      </span>,
    ),
  );
  const list = (choices: readonly Choice[]) => choices.map(([id, words]) => item(id, words));
  const rest = list(REST);
  return (
    <>
      <ContextMenu.Label className="figures px-2 py-1 font-bold">
        {selected > 1 ? counted(targets().length, 'frame') : active?.name}
      </ContextMenu.Label>
      {stage.view === 'review' && active && <ReviewItems id={active.id} />}
      {list(DECISIONS)}
      <Sub words={t`Stars`} items={stars} />
      <Sub words={t`Label`} items={marks} />
      <ContextMenu.Separator className={LINE} />
      {list(LOOKS)}
      {stage.view === 'sheet' && active && <SelectToo id={active.id} before={before} />}
      <Sub words={t`Its group`} items={list(GROUPS)} />
      <Sub words={t`Turn on screen`} items={list(TURNS)} />
      {rest.some(Boolean) && <ContextMenu.Separator className={LINE} />}
      {rest}
    </>
  );
}

/** In the review a frame is proposed, or no longer; the group is decided by the keys. */
function ReviewItems({ id }: { id: number }) {
  const proposed = useDraft(({ proposals, group }) =>
    proposals.find((proposal) => proposal.group === group),
  );
  if (!proposed?.frames.includes(id)) return null;
  return (
    <>
      <ContextMenu.Item className={ITEM} onSelect={() => wantOnly(id)}>
        <Trans>Propose this one alone</Trans>
      </ContextMenu.Item>
      <ContextMenu.Item className={ITEM} onSelect={() => toggle(id)}>
        <Trans>Propose this one, too, or no longer</Trans>
      </ContextMenu.Item>
      <ContextMenu.Separator className={LINE} />
    </>
  );
}

/** By touch, this is how several frames are selected. */
function SelectToo({ id, before }: { id: number; before: readonly number[] }) {
  const there = before.includes(id);
  return (
    <ContextMenu.Item
      className={ITEM}
      onSelect={() =>
        useShoot.getState().select(there ? before.filter((other) => other !== id) : [...before, id])
      }
    >
      {there ? <Trans>Take out of the selection</Trans> : <Trans>Select this, too</Trans>}
    </ContextMenu.Item>
  );
}

function Sub({ words, items }: { words: string; items: readonly ReactNode[] }) {
  if (!items.some(Boolean)) return null;
  return (
    <ContextMenu.Sub>
      <ContextMenu.SubTrigger className={`${ITEM} data-[state=open]:bg-paper`}>
        <span className="flex-1">{words}</span> <span aria-hidden="true">›</span>
      </ContextMenu.SubTrigger>
      <ContextMenu.Portal>
        <ContextMenu.SubContent className={BOX}>{items}</ContextMenu.SubContent>
      </ContextMenu.Portal>
    </ContextMenu.Sub>
  );
}
