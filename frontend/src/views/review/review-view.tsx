import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import { useEffect, useMemo } from 'react';

import type { Proposal } from '../../api/client';
import { Help } from '../../parts/help';
import { Act } from '../../parts/key-cap';
import { ActLine, BarLine, Choice, Middle, StageBar } from '../../parts/on-stage';
import { Thumbnail } from '../../parts/picture';
import {
  isOpen,
  keptOf,
  loadDraft,
  loadDraftSoon,
  nextOpen,
  onStage,
  putOff,
  reviewGroupOf,
  stepBack,
  take,
  takeSure,
  takingOf,
  takingWords,
  toggle,
  useDraft,
  wantBoth,
  wantNext,
} from '../../state/draft';
import { ratioOf } from '../../state/frames';
import { settled } from '../../state/marking';
import { useHints } from '../../state/hints';
import { withParts } from '../../state/pairs';
import { useShoot } from '../../state/shoot';
import { counted } from '../../texts/numbers';
import { FacesBelow } from '../faces/faces-below';
import type { CloseUp } from '../side/close-up';
import { TileStage } from '../side/stage';
import { usePinned } from '../side/use-pinned';
import { type Walk, WayOut } from './way-out';

/** What can come after the last group. */
interface WaysOn {
  /** the picks are to be trimmed or filled to the number */
  onNumber: () => void;
  /** frames that are undecided still are to be shown */
  onUndecided: () => void;
  onWrapUp: () => void;
}

/**
 * The draft, one group a screen: what is proposed beside the next best, why, and what a key does
 * with it.
 */
export function ReviewView({ onNumber, onUndecided, onWrapUp, ...looks }: CloseUp & Walk & WaysOn) {
  const { commands, onDone, labels, near, bare, onClose } = looks;
  const shootId = useShoot((state) => state.shootId);
  const version = useHints((state) => state.version);
  const { proposals, group, changed, loaded, shootId: own } = useDraft();
  const known = loaded && own === shootId;
  useEffect(() => {
    void loadDraft().then(() => {
      const { path, group: at } = useDraft.getState();
      // Where the person is, the first time that it is opened.
      if (!path.length && at !== null) startHere();
    });
  }, [shootId]);
  // While the analysis goes on, what it says of other groups changes what is proposed.
  useEffect(() => {
    if (useDraft.getState().loaded) loadDraftSoon();
  }, [version]);
  const proposal = proposals.find((proposal) => proposal.group === group);
  const keep = useMemo(() => (proposal ? keptOf(proposal, changed) : []), [proposal, changed]);
  const shown = useMemo(() => (proposal ? onStage(proposal, keep) : []), [proposal, keep]);
  usePinned(shown);
  if (!known) return <Middle>{t`Making the draft …`}</Middle>;
  if (!proposal) return <Through {...{ commands, onDone, onNumber, onUndecided, onWrapUp }} />;
  return (
    <div className="flex h-full flex-col bg-stage" data-review={proposal.group + 1}>
      {!bare && <Bar proposal={proposal} keep={keep} commands={commands} onDone={onDone} />}
      <div className={`flex min-h-0 flex-1 ${bare ? '' : 'p-2'}`}>
        <TileStage
          ids={shown}
          places={shown.map((id) => (keep.includes(id) ? t`◆ keep` : t`runner-up`))}
          near={near}
          labels={labels}
          bare={bare}
          onClose={onClose}
        />
      </div>
      <FacesBelow view="review" ids={shown} bare={bare} onClose={onClose} />
      {!bare && <Others proposal={proposal} keep={keep} shown={shown} />}
      <Ahead />
    </div>
  );
}

/** Begin with the group of the active frame, where it waits. */
function startHere(): void {
  const { active, byId, marks } = useShoot.getState();
  const { proposals } = useDraft.getState();
  const here = proposals.find((proposal) => proposal.group === byId.get(active ?? -1)?.group);
  if (here && isOpen(here, marks)) reviewGroupOf(active);
}

/** No group waits any more. */
function Through({ onNumber, onUndecided, onWrapUp, ...walk }: Walk & WaysOn) {
  const picks = useShoot((state) => state.decided.pick);
  const undecided = useShoot((state) => state.decided.undecided);
  const later = useDraft((state) => state.later.size);
  const target = useDraft((state) => state.target);
  const { compared, other } = useDraft();
  // What the last group brought is asked for.
  useEffect(() => {
    void settled().then(loadDraft);
  }, []);
  return (
    <Middle>
      <p className="text-lg font-semibold">
        {target === null
          ? t`The draft is through: ${counted(picks, 'pick')}.`
          : t`The draft is through: ${picks} of ${target} picked.`}
      </p>
      {compared > 0 && (
        <p className="figures" data-other={other}>
          {other === 0
            ? t`In each of the ${counted(compared, 'group')} of several frames with a pick it is one that Winnow calls best.`
            : t`In ${other} of ${counted(compared, 'group')} of several frames with a pick you took another frame than Winnow calls best.`}
        </p>
      )}
      {later > 0 && (
        <p>
          <Trans>What was left for later is decided, too.</Trans>
        </p>
      )}
      <div className="flex gap-5">
        {target !== null && picks !== target && (
          <Act of="number" commands={walk.commands} onClick={onNumber}>
            <strong>{picks > target ? t`trim to ${target}` : t`fill up to ${target}`}</strong>
          </Act>
        )}
        {undecided > 0 && (
          <Act of="only-undecided" commands={walk.commands} onClick={onUndecided}>
            {t`see ${counted(undecided, 'undecided frame')}`}
          </Act>
        )}
        <WayOut of="review-back" words={t`one group back`} onBack={stepBack} {...walk} />
        {walk.commands.some(({ id }) => id === 'wrap-up') && (
          <Act of="wrap-up" commands={walk.commands} onClick={onWrapUp}>
            <Trans>wrap up</Trans>
          </Act>
        )}
      </div>
    </Middle>
  );
}

/** Which group this is, why its frames are proposed, and what each key does. */
function Bar({
  proposal,
  keep,
  commands,
  onDone,
}: Walk & { proposal: Proposal; keep: readonly number[] }) {
  useShoot((state) => state.marksVersion);
  const { marks, byId, decided } = useShoot.getState();
  const { proposals, rest, changed, doubtful, waits } = useDraft();
  const open = proposals.filter((proposal) => isOpen(proposal, marks));
  const sure = open.filter((proposal) => proposal.sure && !changed.has(proposal.group)).length;
  const drafted =
    decided.pick + open.reduce((all, proposal) => all + keptOf(proposal, changed).length, 0);
  const nameOf = (id: number) => byId.get(id)?.name ?? '';
  const taking = keep.length
    ? takingWords(takingOf(proposal, withParts(keep), rest, marks), nameOf)
    : t`takes nothing: choose a frame`;
  const number = proposal.group + 1;
  const moved = changed.has(proposal.group);
  return (
    <StageBar>
      <BarLine>
        <strong>
          <Trans>
            Group {number} · {counted(open.length, 'group')} to decide
          </Trans>
        </strong>
        <span className="min-w-52 flex-1 truncate" data-why>
          {moved ? t`your choice; proposed: ${proposal.words}` : proposal.words}
        </span>
        {waits && (
          <span>
            <Trans>still looking …</Trans>
          </span>
        )}
        <span data-drafted={drafted} title={t`Picks, and what the open groups would add`}>
          {t`${drafted} would be kept`}
        </span>
        <Choice
          on={rest === 'reject'}
          onChange={(on) => useDraft.setState({ rest: on ? 'reject' : 'leave' })}
        >
          <Trans>the rest is rejected</Trans>
        </Choice>
        <Choice on={doubtful} onChange={(on) => useDraft.setState({ doubtful: on })}>
          <Trans>doubtful first</Trans>
        </Choice>
        <Help about={t`The draft`}>
          <p>
            <Trans>
              Winnow proposes what to keep, from what it measured; you decide. The frame with ◆ is
              proposed, beside it stands the next best, below are the others: click one to keep it,
              too, or no longer. Each group that you take is one step that can be undone.
            </Trans>
          </p>
        </Help>
      </BarLine>
      <ActLine>
        <Act of="review-take" commands={commands} onClick={() => take()}>
          <strong>{taking}</strong>
        </Act>
        <Act of="review-next" commands={commands} onClick={() => wantNext(1)}>
          <Trans>another</Trans>
        </Act>
        <Act of="review-both" commands={commands} onClick={wantBoth}>
          {keep.length > 1 ? t`one less` : t`both`}
        </Act>
        <Act of="review-none" commands={commands} onClick={() => take([])}>
          <Trans>none</Trans>
        </Act>
        <Act of="review-later" commands={commands} onClick={putOff}>
          <Trans>later</Trans>
        </Act>
        <Act of="review-back" commands={commands} onClick={stepBack}>
          <Trans>back</Trans>
        </Act>
        <span className="flex-1" />
        {sure > 0 && (
          <Act of="review-sure" commands={commands} onClick={takeSure}>
            {t`take all sure (${sure})`}
          </Act>
        )}
        <Act of="back" commands={commands} onClick={onDone}>
          <Trans>leave</Trans>
        </Act>
      </ActLine>
    </StageBar>
  );
}

/** All frames of the group, from best to worst; a click keeps one, or no longer. */
function Others({
  proposal,
  keep,
  shown,
}: {
  proposal: Proposal;
  keep: readonly number[];
  shown: readonly number[];
}) {
  const byId = useShoot((state) => state.byId);
  const unusable = useHints((state) => state.unusable);
  return (
    <ol
      aria-label={t`This group, the best first`}
      className="flex h-20 shrink-0 items-center gap-1.5 overflow-x-auto bg-black/20 px-3"
    >
      {proposal.frames.map((id) => {
        const frame = byId.get(id);
        if (!frame) return null;
        const kept = keep.includes(id);
        const words = kept ? t`${frame.name}, to keep` : t`${frame.name}, not kept`;
        return (
          <li key={id} className="shrink-0">
            <button
              type="button"
              aria-pressed={kept}
              aria-label={words}
              title={words}
              data-other={frame.name}
              data-shows={id}
              onMouseDown={(event) => event.preventDefault()}
              onClick={() => toggle(id)}
              className={`relative block h-14 ${shown.includes(id) ? 'outline-2 outline-on-stage' : ''}`}
              style={{ aspectRatio: ratioOf(frame) }}
            >
              {frame.picture > 0 && <Thumbnail frame={frame} />}
              {(kept || unusable.has(id)) && (
                <span className="absolute top-0.5 left-0.5 rounded bg-black/75 px-1 text-xs font-bold text-white">
                  {kept ? '◆' : '×'}
                </span>
              )}
            </button>
          </li>
        );
      })}
    </ol>
  );
}

/** The pictures of the next group, so that they are there when it comes. */
function Ahead() {
  useShoot((state) => state.marksVersion);
  const { proposals, group, later, doubtful, changed } = useDraft();
  const { marks, byId } = useShoot.getState();
  const next = nextOpen(proposals, group, marks, later, doubtful);
  const proposal = proposals.find((proposal) => proposal.group === next);
  const ids = proposal ? onStage(proposal, keptOf(proposal, changed)) : [];
  return (
    <span hidden>
      {ids.map((id) => {
        const key = byId.get(id)?.key;
        return key ? (
          <img key={id} alt="" src={`/api/frames/${id}/preview?key=${key}`} decoding="async" />
        ) : null;
      })}
    </span>
  );
}
