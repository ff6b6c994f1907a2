import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import { useEffect, useMemo } from 'react';

import type { Command } from '../../commands/command';
import { Help } from '../../parts/help';
import { Act } from '../../parts/key-cap';
import { ActLine, BarLine, Choice, Middle, StageBar } from '../../parts/on-stage';
import { useDraft } from '../../state/draft';
import { useHints } from '../../state/hints';
import { namesOf } from '../../state/pairs';
import { useShoot } from '../../state/shoot';
import {
  asked,
  askOther,
  keepIt,
  letGo,
  loadNumber,
  pairOf,
  questionBack,
  useNumber,
  wayTo,
  type Way,
} from '../../state/to-number';
import { againstTarget } from '../../state/tally';
import type { CloseUp } from '../side/close-up';
import { TileStage } from '../side/stage';
import { usePinned } from '../side/use-pinned';
import { type Walk, WayOut } from '../review/way-out';

const NONE: readonly number[] = [];

/**
 * From what is picked to the number that is to be kept: one question at a time, over the two
 * photographs that it is about.
 */
export function NumberView({
  wanted,
  commands,
  labels,
  near,
  bare,
  onClose,
  onDone,
  onNumber,
}: CloseUp & {
  /** how many are to be kept, as the shoot says */
  wanted: number | null;
  onDone: () => void;
  /** the number itself is to be set */
  onNumber: () => void;
}) {
  const shootId = useShoot((state) => state.shootId);
  const picks = useShoot((state) => state.decided.pick);
  const version = useHints((state) => state.version);
  const { questions, other, target, loaded, shootId: own } = useNumber();
  useEffect(() => {
    void loadNumber();
  }, [shootId, version, wanted]);
  const way = wayTo(target, picks);
  const { question, frame } = asked({ questions, other });
  const open = way !== 'there' && question && frame !== undefined;
  const shown = useMemo(
    () => (open ? pairOf(question, frame, way) : NONE),
    [open, question, frame, way],
  );
  usePinned(shown);
  if (!loaded || own !== shootId) return <Middle>{t`Looking for what may go …`}</Middle>;
  if (!open)
    return (
      <There
        picks={picks}
        target={target}
        commands={commands}
        onDone={onDone}
        onNumber={onNumber}
      />
    );
  return (
    <div className="flex h-full flex-col bg-stage" data-number={way} data-asked={frame}>
      {!bare && (
        <Bar
          way={way}
          frame={frame}
          picks={picks}
          target={target ?? 0}
          commands={commands}
          onDone={onDone}
        />
      )}
      <div className={`flex min-h-0 flex-1 ${bare ? '' : 'p-2'}`}>
        <TileStage
          ids={shown}
          places={shown.map((id) => placeWords(way, id === frame, id === question.beside))}
          near={near}
          labels={labels}
          bare={bare}
          onClose={onClose}
        />
      </div>
    </div>
  );
}

function placeWords(way: Way, isAsked: boolean, isBeside: boolean): string {
  if (way === 'trim') return isAsked ? t`◇ goes` : t`◆ stays`;
  if (isAsked) return t`◇ new`;
  return isBeside ? t`◆ picked` : t`another of its group`;
}

/** Nothing is asked any more, or not yet. */
function There({
  picks,
  target,
  commands,
  onDone,
  onNumber,
}: {
  picks: number;
  target: number | null;
  commands: readonly Command[];
  onDone: () => void;
  onNumber: () => void;
}) {
  const way = wayTo(target, picks);
  return (
    <Middle>
      <p className="figures text-lg font-semibold" data-there={way}>
        {target === null
          ? t`How many are to be kept?`
          : t`${picks} of ${target}: ${againstTarget(picks, target)}.`}
      </p>
      {target === null ? (
        <p>
          <Trans>Say the number first; then picks are let go, or added, until it is met.</Trans>
        </p>
      ) : (
        way !== 'there' && (
          <p>
            {way === 'trim'
              ? t`You have looked at all of them, and every pick is to stay.`
              : t`Nothing else can be used, or you have looked at all of it.`}
          </p>
        )
      )}
      <div className="flex flex-wrap justify-center gap-5">
        <button
          type="button"
          className="rounded border border-on-stage px-3 py-1.5 font-semibold"
          onClick={onNumber}
        >
          {target === null ? t`Say how many` : t`Change the number`}
        </button>
        <WayOut
          of="number-back"
          words={t`one question back`}
          commands={commands}
          onBack={questionBack}
          onDone={onDone}
        />
      </div>
    </Middle>
  );
}

/** How far it is to the number, what would be lost or gained, and what each key does. */
function Bar({
  way,
  frame,
  picks,
  target,
  commands,
  onDone,
}: Walk & { way: Way; frame: number; picks: number; target: number }) {
  const name = useShoot((state) => namesOf(state.byId.get(frame)?.parts ?? [frame]));
  const question = useNumber((state) => state.questions[0]);
  const turned = useNumber((state) => state.other !== null);
  const rest = useDraft((state) => state.rest);
  const trims = way === 'trim';
  const others = question?.others.length ?? 0;
  return (
    <StageBar>
      <BarLine>
        <strong data-picks={picks}>
          {t`${picks} of ${target} · ${againstTarget(picks, target)}`}
        </strong>
        <span className="min-w-0 truncate" data-why>
          {turned ? t`your choice` : question?.words}
        </span>
        <span className="flex-1" />
        {trims && (
          <Choice
            on={rest === 'reject'}
            onChange={(on) => useDraft.setState({ rest: on ? 'reject' : 'leave' })}
          >
            <Trans>what goes is rejected</Trans>
          </Choice>
        )}
        <Help about={t`Trim and fill`}>
          <p>
            <Trans>
              With more picks than wanted, each question shows the pick that is lost most easily
              beside the one that is most like it. With fewer, it shows what is missing most: groups
              of which nothing is picked, then seconds that differ. Each answer is one step that can
              be undone.
            </Trans>
          </p>
        </Help>
      </BarLine>
      <ActLine>
        <Act of="number-out" commands={commands} onClick={letGo}>
          {trims ? (
            <strong>{rest === 'reject' ? t`rejects ${name}` : t`leaves ${name} undecided`}</strong>
          ) : (
            t`leave this group as it is`
          )}
        </Act>
        <Act of="number-keep" commands={commands} onClick={keepIt}>
          {trims ? t`both stay` : <strong>{t`picks ${name}`}</strong>}
        </Act>
        {others > 0 && (
          <Act of="number-next" commands={commands} onClick={() => askOther(1)}>
            {trims ? t`the other one goes` : t`another of its group`}
          </Act>
        )}
        <Act of="number-back" commands={commands} onClick={questionBack}>
          <Trans>back</Trans>
        </Act>
        <span className="flex-1" />
        <Act of="back" commands={commands} onClick={onDone}>
          <Trans>leave</Trans>
        </Act>
      </ActLine>
    </StageBar>
  );
}
