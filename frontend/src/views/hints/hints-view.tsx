import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import { useEffect, useMemo, useRef } from 'react';
import { useQuery } from '@tanstack/react-query';
import { useSearchParams } from 'react-router';

import { api, ask, type Filter, type HintKind, type Label } from '../../api/client';
import type { Command } from '../../commands/command';
import { Button } from '../../parts/button';
import { Cap } from '../../parts/key-cap';
import { counted, withinSentence } from '../../texts/numbers';
import { loadHintsSoon, thresholdWords, useHints } from '../../state/hints';
import { beginBulk, flipKind, leftIf, showKind, useBulk, type KindName } from '../../state/bulk';
import { useShoot } from '../../state/shoot';
import { applyByHints } from './apply';
import { Beside } from './beside-threshold';
import { EvidenceList } from './evidence';
import { SecondLooks } from './second-look';

/** What the analysis noticed in the shoot, kind by kind; marks by it in bulk; a second look. */
export function HintsView({
  commands,
  labels,
  onOpen,
  onFilter,
}: {
  commands: readonly Command[];
  labels: readonly Label[];
  /** a frame is to be seen large */
  onOpen: (id: number) => void;
  /** these frames are to be seen in the sheet */
  onFilter: (filter: Filter) => void;
}) {
  const { kinds, waits } = useHints();
  const shootId = useShoot((state) => state.shootId);
  const asked = useSearchParams()[0].get('kind') as KindName | null;
  useEffect(() => beginBulk(shootId, asked), [shootId, asked]);
  const { shown, chosen, second } = useBulk();
  const kind = kinds.find((kind) => kind.name === shown);
  // How often somebody disagreed follows from the marks: asked for once one is stored.
  const undo = useShoot((state) => state.undo);
  useEffect(() => loadHintsSoon(), [undo]);
  return (
    <div className="flex h-full bg-chrome max-[700px]:flex-col">
      <section
        aria-label={t`Kinds of hint`}
        className="figures flex w-[336px] shrink-0 flex-col border-r border-line max-[700px]:h-1/2 max-[700px]:w-full"
      >
        <div className="px-4 pt-3 pb-2">
          <h2 className="text-base font-bold">
            <Trans>What the analysis noticed</Trans>
          </h2>
          <p className="text-[13px] text-quiet">
            <Trans>
              Reasons, not verdicts: nothing is marked by itself. Tick kinds to mark their frames
              together.
            </Trans>
          </p>
          {waits && (
            <p role="note" className="mt-1 text-[13px] font-semibold">
              <Trans>Some frames are still being looked at: the numbers will grow.</Trans>
            </p>
          )}
        </div>
        <ul className="min-h-0 flex-1 overflow-y-auto pb-2">
          {kinds.map((kind) => (
            <KindRow
              key={kind.name}
              kind={kind}
              shown={!second && kind.name === shown}
              chosen={chosen.has(kind.name)}
              onShow={() => showKind(kind.name)}
              onChoose={() => flipKind(kind.name)}
            />
          ))}
        </ul>
        <div className="shrink-0 border-t border-line p-2">
          <button
            type="button"
            aria-pressed={second}
            className={`w-full rounded px-2 py-2 text-left ${second ? 'bg-ink text-paper' : 'hover:bg-paper'}`}
            onClick={() => useBulk.setState({ second: true })}
          >
            <strong className="block">
              <Trans>Thrown out by hints, look again</Trans>
            </strong>
            <span className="text-[13px]">
              <Trans>Groups that lost all that could be used, the best of it first</Trans>
            </span>
          </button>
        </div>
      </section>
      <div className="flex min-h-0 min-w-0 flex-1 flex-col">
        {second ? (
          <SecondLooks labels={labels} onOpen={onOpen} />
        ) : (
          kind && (
            <>
              <Beside key={kind.name} kind={kind} labels={labels} onOpen={onOpen} />
              <Chosen
                kinds={kinds}
                shown={kind}
                labels={labels}
                commands={commands}
                onOpen={onOpen}
                onFilter={onFilter}
              />
            </>
          )
        )}
      </div>
    </div>
  );
}

function KindRow({
  kind,
  shown,
  chosen,
  onShow,
  onChoose,
}: {
  kind: HintKind;
  shown: boolean;
  chosen: boolean;
  onShow: () => void;
  onChoose: () => void;
}) {
  return (
    <li
      className={`flex items-start gap-3 border-l-4 py-1.5 pr-4 pl-3 ${shown ? 'border-accent bg-paper' : 'border-transparent'}`}
    >
      <input
        type="checkbox"
        aria-label={t`Choose ${kind.title}`}
        className="mt-1 shrink-0"
        checked={chosen}
        onChange={onChoose}
      />
      <button
        type="button"
        aria-current={shown}
        data-kind={kind.name}
        className="min-w-0 flex-1 text-left"
        onClick={onShow}
      >
        <span className="flex items-baseline gap-2">
          <span className="font-semibold">{kind.title}</span>
          <span className="min-w-0 flex-1 truncate text-[13px] text-quiet">
            {thresholdWords(kind, kind.threshold)}
          </span>
          <span className="font-semibold">{kind.named.length}</span>
        </span>
        {kind.decided > 0 && kind.name !== 'alone' && (
          <span className="block text-[13px] text-quiet">
            <Trans>
              you disagreed with {kind.disagreed} of {kind.decided}
            </Trans>
          </span>
        )}
      </button>
    </li>
  );
}

/** The frames that the ticked kinds name, and the mark that they may be given. */
function Chosen({
  kinds,
  shown,
  labels,
  commands,
  onOpen,
  onFilter,
}: {
  kinds: readonly HintKind[];
  shown: HintKind;
  labels: readonly Label[];
  commands: readonly Command[];
  onOpen: (id: number) => void;
  onFilter: (filter: Filter) => void;
}) {
  const frames = useShoot((state) => state.frames);
  const marks = useShoot((state) => state.marks);
  const marksVersion = useShoot((state) => state.marksVersion);
  const filter = useShoot((state) => state.filter);
  const shootId = useShoot((state) => state.shootId);
  const version = useHints((state) => state.version);
  const { chosen, off, leaves } = useBulk();
  // Without any ticked it is the one that is looked at.
  const kindsShown = chosen.size ? kinds.filter((kind) => chosen.has(kind.name)) : [shown];
  const names = kindsShown.map((kind) => kind.name);
  const { data, isPlaceholderData } = useQuery({
    queryKey: ['evidence', shootId, names.join(' '), version],
    queryFn: () =>
      ask(
        api.GET('/api/shoots/{shoot}/evidence', {
          params: { path: { shoot: shootId }, query: { kind: names } },
        }),
      ),
    placeholderData: (last) => last,
    staleTime: Infinity,
  });
  const named = new Set(kindsShown.flatMap((kind) => kind.named));
  const isLeft = (id: number) => leaves && marks.get(id)?.decision !== 'undecided';
  // What a mark is for comes first.
  const all = (data ?? [])
    .filter((piece) => named.has(piece.frame))
    .sort((a, b) => Number(isLeft(a.frame)) - Number(isLeft(b.frame)));
  const meant = all.map((piece) => piece.frame).filter((id) => !off.has(id) && !isLeft(id));
  const words = kindsShown.map((kind) => withinSentence(kind.title)).join(t` or `);
  // What speaks against frames is for rejecting them, what speaks for them is for picking them.
  const fits = kindsShown.every((kind) => kind.fault)
    ? 'reject'
    : kindsShown.some((kind) => kind.fault)
      ? ''
      : 'pick';
  const key = meant.join(' ');
  const left = useMemo(() => {
    const isRejected = (id: number) => marks.get(id)?.decision === 'reject';
    return leftIf(frames, isRejected, new Set(key.split(' ').map(Number)));
    // eslint-disable-next-line react-hooks/exhaustive-deps -- the marks are changed in place
  }, [frames, marks, marksVersion, key]);
  const touched = new Set(meant.map((id) => useShoot.getState().byId.get(id)?.group ?? -1));
  const emptied = [...touched].filter((group) => left.get(group)?.left === 0).length;
  const list = useRef<HTMLDivElement>(null);
  const known = !!data;
  useEffect(() => {
    if (known && list.current) list.current.scrollTop = useBulk.getState().top;
  }, [known]);
  const give = (edit: Parameters<typeof applyByHints>[2]) =>
    void applyByHints(
      meant,
      kindsShown.map((kind) => kind.name),
      edit,
    );
  return (
    <section
      aria-label={t`Frames named`}
      className="flex min-h-0 flex-1 flex-col border-t border-line"
    >
      <div className="figures flex min-h-12 shrink-0 flex-wrap items-center gap-x-3 gap-y-1 px-4 py-1.5">
        <div className="min-w-0 flex-1">
          <p className="truncate" title={words}>
            <Trans>
              <strong>{counted(named.size, 'frame')}</strong> named: {words}
            </Trans>
          </p>
          <label className="flex items-center gap-1.5 text-[13px] whitespace-nowrap">
            <input
              type="checkbox"
              checked={leaves}
              onChange={(event) => useBulk.setState({ leaves: event.target.checked })}
            />
            <Trans>leave decided frames as they are</Trans>
            {fits === 'reject' && emptied > 0 && (
              <strong data-emptied={emptied}>
                {' · '}
                {t`nothing would be left of ${counted(emptied, 'group')}`}
              </strong>
            )}
          </label>
        </div>
        <Button
          disabled={!named.size}
          onClick={() =>
            onFilter({
              ...filter,
              written: kindsShown.map((kind) => `hint ${quoted(kind.name)}`).join(' or '),
            })
          }
        >
          <Trans>see in the sheet</Trans>
        </Button>
        <Give
          labels={labels}
          fits={fits}
          count={isPlaceholderData ? 0 : meant.length}
          onGive={give}
        />
      </div>
      <div
        ref={list}
        className="min-h-0 flex-1 overflow-y-auto bg-stage p-3"
        onScroll={(event) => useBulk.setState({ top: event.currentTarget.scrollTop })}
      >
        {named.size ? (
          <EvidenceList
            all={all}
            meant={new Set(meant)}
            left={fits === 'reject' ? (group) => left.get(group) : undefined}
            labels={labels}
            onOpen={onOpen}
          />
        ) : (
          <p className="p-6 text-center text-on-stage">
            <Trans>No frame is named. Move the threshold, or choose another kind.</Trans>
          </p>
        )}
      </div>
      <p className="flex shrink-0 items-center gap-2 border-t border-line px-4 py-1 text-[13px] text-quiet">
        <Trans>One step of the history, whatever their number:</Trans>{' '}
        <Cap of="undo" commands={commands} />{' '}
        <Trans>takes it back. A click shows a frame large.</Trans>
      </p>
    </section>
  );
}

function quoted(name: string): string {
  return name.includes('_') ? `"${name.replaceAll('_', ' ')}"` : name;
}

/** The marks that can be given to all of them. */
function Give({
  labels,
  fits,
  count,
  onGive,
}: {
  labels: readonly Label[];
  /** the mark that fits what names them; "": neither more than the other */
  fits: 'reject' | 'pick' | '';
  count: number;
  onGive: (edit: Parameters<typeof applyByHints>[2]) => void;
}) {
  return (
    <span role="group" aria-label={t`Mark them`} className="flex flex-wrap items-center gap-2">
      {(fits === 'pick' ? (['pick', 'reject'] as const) : (['reject', 'pick'] as const)).map(
        (decision) => (
          <Button
            key={decision}
            main={fits === decision}
            disabled={!count}
            onClick={() => onGive({ decision })}
          >
            {decision === 'reject' ? t`Reject ${count}` : t`Pick ${count}`}
          </Button>
        ),
      )}
      <select
        aria-label={t`Give them another mark`}
        className="h-9 rounded border border-line bg-paper px-2 font-semibold"
        value=""
        disabled={!count}
        onChange={(event) => {
          const [what, value] = event.target.value.split(' ');
          if (what === 'stars') onGive({ stars: Number(value) });
          else if (what === 'label') onGive({ label: value ?? '' });
          else onGive({ decision: 'undecided' });
        }}
      >
        <option value="" disabled>
          {t`other mark …`}
        </option>
        <option value="undecided">{t`leave ${count} undecided`}</option>
        {[0, 1, 2, 3, 4, 5].map((stars) => (
          <option key={stars} value={`stars ${stars}`}>
            {stars ? t`${stars}★ on ${count}` : t`no stars on ${count}`}
          </option>
        ))}
        {labels.map((label) => (
          <option key={label.letter} value={`label ${label.letter}`}>
            {t`${label.name} on ${count}`}
          </option>
        ))}
      </select>
    </span>
  );
}
