import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import { useQuery } from '@tanstack/react-query';
import { Split } from 'lucide-react';

import { api, ask, inWords } from '../../api/client';
import { Panel } from '../../parts/dialog';
import { counted, LOCALE } from '../../texts/numbers';
import { goTo } from '../../state/marking';
import { useShoot } from '../../state/shoot';

/** Every step of this shoot, the newest first: a click goes back, or on, to it. */
export function History({
  shootId,
  open,
  onClose,
  onStep,
}: {
  shootId: number;
  open: boolean;
  onClose: () => void;
  /** to a step of the wrap-up, where what was done to files is taken back */
  onStep: (step: number) => void;
}) {
  const onGo = (step: number) => {
    onClose();
    onStep(step);
  };
  const version = useShoot((state) => `${state.undo} ${state.redo} ${state.marksVersion}`);
  const { data, error } = useQuery({
    queryKey: ['history', shootId, version],
    queryFn: () =>
      ask(api.GET('/api/shoots/{shoot}/history/all', { params: { path: { shoot: shootId } } })),
    enabled: open,
    placeholderData: (before) => before,
  });
  const now = data?.find((step) => !step.undone && !step.left)?.id ?? null;
  const first = !!data && data.length < 500;
  return (
    <Panel open={open} onClose={onClose} title={t`History`}>
      {error && <p>{inWords(error)}</p>}
      <FileSteps shootId={shootId} open={open} onGo={onGo} />
      {data?.length === 0 && (
        <p>
          <Trans>Nothing is marked yet. Every mark becomes a step here.</Trans>
        </p>
      )}
      {!!data?.length && (
        <>
          <p className="mb-3 text-quiet">
            <Trans>
              Choose a step to be there again. Nothing is ever lost: what you left by marking
              something else stays here as well.
            </Trans>
          </p>
          <ol className="figures">
            {data.map((step) => (
              <Step
                key={step.id}
                current={step.id === now}
                undone={step.undone}
                left={step.left}
                time={step.made_at}
                onChoose={() => goTo(step.id)}
              >
                {step.by && <strong>{step.by}: </strong>}
                {step.sentence}
                {step.frames > 1 && ` (${counted(step.frames, 'frame')})`}
              </Step>
            ))}
            {first && (
              <Step
                current={now === null}
                undone={false}
                left={false}
                time={null}
                onChoose={() => goTo(null)}
              >
                <Trans>before the first mark</Trans>
              </Step>
            )}
          </ol>
        </>
      )}
    </Panel>
  );
}

/**
 * What was done to files, which the steps do not hold: undo is for marks, texts and groups, and a
 * file moves only when somebody says so.
 */
function FileSteps({
  shootId,
  open,
  onGo,
}: {
  shootId: number;
  open: boolean;
  onGo: (step: number) => void;
}) {
  const path = { params: { path: { shoot: shootId } } };
  const { data: deliveries } = useQuery({
    queryKey: ['deliveries', shootId],
    queryFn: () => ask(api.GET('/api/shoots/{shoot}/deliveries', path)),
    enabled: open,
  });
  const { data: renamings } = useQuery({
    queryKey: ['renamings', shootId],
    queryFn: () => ask(api.GET('/api/shoots/{shoot}/renamings', path)),
    enabled: open,
  });
  const { data: aside } = useQuery({
    queryKey: ['aside', shootId],
    queryFn: () => ask(api.GET('/api/shoots/{shoot}/aside', path)),
    enabled: open,
  });
  const done = [
    [4, deliveries?.find(({ state }) => state === 'done') && t`deliveries`],
    [3, renamings?.find(({ state }) => state === 'done') && t`renamed files`],
    [8, aside && aside.held.frames > 0 && t`frames that are set aside`],
  ].filter((each): each is [number, string] => !!each[1]);
  return (
    <p className="mb-3 text-quiet">
      <Trans>
        Undo and this list are for marks, texts and groups. What was done to files is taken back
        where it was done, in the wrap-up:
      </Trans>{' '}
      {done.length
        ? done.map(([step, words], n) => (
            <span key={step}>
              {n > 0 && ', '}
              <button type="button" className="underline" onClick={() => onGo(step)}>
                {words}
              </button>
            </span>
          ))
        : t`nothing yet`}
      .
    </p>
  );
}

function Step({
  current,
  undone,
  left,
  time,
  onChoose,
  children,
}: {
  current: boolean;
  undone: boolean;
  left: boolean;
  time: number | null;
  onChoose: () => void;
  children: React.ReactNode;
}) {
  return (
    <li>
      <button
        type="button"
        aria-current={current ? 'step' : undefined}
        onClick={onChoose}
        className={`flex w-full items-baseline gap-3 rounded px-2 py-1 text-left hover:bg-paper ${current ? 'bg-paper font-bold' : ''} ${undone || left ? 'text-quiet italic' : ''}`}
      >
        <span className="w-4 shrink-0">
          {current ? '▸' : undone ? '↷' : left ? <Split size={13} className="inline" /> : ''}
        </span>
        <span className="min-w-0 flex-1">
          {children}
          {undone && t` — undone`}
          {left && t` — left for another way`}
        </span>
        <span className="shrink-0 text-quiet">{time !== null && when(time)}</span>
      </button>
    </li>
  );
}

function when(seconds: number): string {
  const at = new Date(seconds * 1000);
  const today = at.toDateString() === new Date().toDateString();
  return at.toLocaleString(LOCALE, {
    ...(today ? {} : { day: 'numeric', month: 'short' }),
    hour: '2-digit',
    minute: '2-digit',
    second: '2-digit',
  });
}
