import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';

import { api, ask, inWords, type Aside, type Shoot } from '../../../api/client';
import { Button } from '../../../parts/button';
import { counted, size } from '../../../texts/numbers';
import { settled } from '../../../state/marking';
import { useShoot } from '../../../state/shoot';
import { DeletePanel } from './delete-panel';
import { Ended, FramesDone } from '../notes';
import { Thumbnail } from '../thumbnail';
import { Step } from '../wrap-up';

/** Rejects wait in a folder beside the shoot, from which each comes back exactly as it was. */
export function SetAside({ shoot }: { shoot: Shoot }) {
  const client = useQueryClient();
  const [deleting, setDeleting] = useState<{ frames: number[] | null }>();
  const marksVersion = useShoot((state) => state.marksVersion);
  const path = { params: { path: { shoot: shoot.id } } };
  const { data, error } = useQuery({
    queryKey: ['aside', shoot.id, marksVersion],
    queryFn: () => settled().then(() => ask(api.GET('/api/shoots/{shoot}/aside', path))),
    placeholderData: (before) => before,
  });
  const again = () => client.invalidateQueries({ queryKey: ['aside', shoot.id] });
  const go = useMutation({
    mutationFn: () => ask(api.POST('/api/shoots/{shoot}/aside', { ...path, body: {} })),
    onSettled: again,
  });
  const back = useMutation({
    mutationFn: (frames: number[] | null) =>
      ask(api.POST('/api/shoots/{shoot}/aside/back', { ...path, body: { frames } })),
    onSettled: again,
  });
  const stop = useMutation({
    mutationFn: () => ask(api.DELETE('/api/shoots/{shoot}/aside', path)),
    onSettled: again,
  });
  const problem = error ?? go.error ?? back.error;
  return (
    <Step number={8} title={t`Set the rejects aside`}>
      <p className="text-quiet">
        <Trans>
          Their files move to a folder beside the shoot, with raw files and sidecars. Nothing is
          deleted, and each comes back exactly as it was.
        </Trans>
      </p>
      {problem && (
        <p role="alert" className="font-semibold text-wrong">
          {inWords(problem)}
        </p>
      )}
      {data && (
        <>
          <p>
            {data.rejects.frames === 0 ? (
              t`No reject is in the shoot’s folder.`
            ) : (
              <>
                <Trans>
                  <strong>{counted(data.rejects.frames, 'reject')}</strong>,{' '}
                  {counted(data.rejects.files, 'file')}, {size(data.rejects.size)}, to{' '}
                  <strong>{data.folders.join(' and ')}</strong>
                </Trans>
              </>
            )}
          </p>
          <div className="flex items-center gap-4">
            {data.running ? (
              <Button onClick={() => stop.mutate()}>
                <Trans>Stop moving</Trans>
              </Button>
            ) : (
              <Button
                main
                disabled={data.rejects.frames === 0 || go.isPending}
                onClick={() => go.mutate()}
              >
                <Trans>Set {counted(data.rejects.frames, 'reject')} aside</Trans>
              </Button>
            )}
            <Result aside={data} />
          </div>
          {data.held.frames > 0 && (
            <Held
              aside={data}
              busy={data.running}
              onDelete={(frames) => setDeleting({ frames })}
              onBack={(frames) => back.mutate(frames)}
            />
          )}
        </>
      )}
      {deleting && (
        <DeletePanel
          shoot={shoot}
          frames={deleting.frames}
          onClose={() => setDeleting(undefined)}
        />
      )}
    </Step>
  );
}

function Result({ aside }: { aside: Aside }) {
  const byId = useShoot((state) => state.byId);
  if (aside.running) {
    return <FramesDone label={t`Moved`} done={aside.done} total={aside.total} />;
  }
  if (aside.moved === null) return <Ended notice={aside.notice} />;
  return (
    <div role="status" data-testid="moved" className="min-w-0 flex-1">
      {counted(aside.moved, 'frame')} {aside.back ? t`brought back` : t`set aside`}
      {aside.problems.length > 0 && t`, ${counted(aside.problems.length, 'frame')} left in place`}.
      <ul>
        {aside.problems.slice(0, 5).map((problem) => (
          <li key={problem.frame}>
            <strong>{byId.get(problem.frame)?.name}</strong>: {problem.notice}
          </li>
        ))}
      </ul>
    </div>
  );
}

const MOST = 200;

/** What is held: all of it, or some, can be brought back. */
function Held({
  aside,
  busy,
  onDelete,
  onBack,
}: {
  aside: Aside;
  busy: boolean;
  onDelete: (frames: number[] | null) => void;
  onBack: (frames: number[] | null) => void;
}) {
  const byId = useShoot((state) => state.byId);
  const [chosen, setChosen] = useState<ReadonlySet<number>>(new Set());
  const wanted = aside.held_frames.filter((id) => chosen.has(id));
  const flip = (id: number) => {
    const next = new Set(chosen);
    if (!next.delete(id)) next.add(id);
    setChosen(next);
  };
  return (
    <section aria-label={t`Set aside`} className="rounded border border-line bg-paper p-3">
      <p>
        <Trans>
          <strong>{counted(aside.held.frames, 'frame')}</strong> set aside,{' '}
          {counted(aside.held.files, 'file')}, {size(aside.held.size)}.
        </Trans>
      </p>
      <ul className="my-2 flex max-h-64 flex-wrap gap-2 overflow-auto">
        {aside.held_frames.slice(0, MOST).map((id) => (
          <li key={id}>
            <label className="flex cursor-pointer flex-col text-[13px]">
              <Thumbnail frame={byId.get(id)} />
              <span className="flex items-center gap-1">
                <input type="checkbox" checked={chosen.has(id)} onChange={() => flip(id)} />
                {byId.get(id)?.name}
              </span>
            </label>
          </li>
        ))}
      </ul>
      {aside.held_frames.length > MOST && (
        <p className="text-quiet">
          <Trans>And {counted(aside.held_frames.length - MOST, 'frame')} more.</Trans>
        </p>
      )}
      <div className="flex gap-3">
        <Button disabled={busy || !wanted.length} onClick={() => onBack(wanted)}>
          <Trans>Bring back</Trans> {wanted.length || t`those chosen`}
        </Button>
        <Button disabled={busy} onClick={() => onBack(null)}>
          <Trans>Bring all back</Trans>
        </Button>
        <span className="flex-1" />
        <Button disabled={busy} onClick={() => onDelete(wanted.length ? wanted : null)}>
          {wanted.length ? t`Delete ${wanted.length} for good …` : t`Delete all for good …`}
        </Button>
      </div>
    </section>
  );
}
