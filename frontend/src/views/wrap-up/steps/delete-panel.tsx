import { plural, t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';

import { api, ask, type Deletion, type Shoot } from '../../../api/client';
import { Button } from '../../../parts/button';
import { Panel } from '../../../parts/dialog';
import { Refused } from '../../../parts/refused';
import { counted, size } from '../../../texts/numbers';
import { useShoot } from '../../../state/shoot';
import { Ended, FramesDone } from '../notes';

/**
 * Deleting for good: what it takes away is counted first, and the number of frames is typed by
 * hand.
 */
export function DeletePanel({
  shoot,
  frames,
  onClose,
}: {
  shoot: Shoot;
  /** null: all that are set aside */
  frames: readonly number[] | null;
  onClose: () => void;
}) {
  const client = useQueryClient();
  const [typed, setTyped] = useState('');
  const [trash, setTrash] = useState(true);
  const path = { params: { path: { shoot: shoot.id } } };
  // Under "aside", so that its events ask for it again.
  const key = ['aside', shoot.id, 'deletion'];
  const begun = useQuery({
    queryKey: ['deletion-look', shoot.id, frames],
    queryFn: () =>
      ask(
        api.POST('/api/shoots/{shoot}/aside/deletion/look', {
          ...path,
          body: { frames: frames ? [...frames] : null },
        }),
      ),
    staleTime: Infinity,
    gcTime: 0,
    retry: false,
  });
  const { data } = useQuery({
    queryKey: key,
    queryFn: () => ask(api.GET('/api/shoots/{shoot}/aside/deletion', path)),
    enabled: begun.isSuccess,
  });
  const start = useMutation({
    mutationFn: () =>
      ask(
        api.POST('/api/shoots/{shoot}/aside/deletion', {
          ...path,
          body: { number: Number(typed), trash },
        }),
      ),
    onSuccess: (after) => client.setQueryData(key, after),
  });
  const close = () => {
    onClose();
    void ask(api.DELETE('/api/shoots/{shoot}/aside/deletion', path))
      .catch(() => undefined)
      .then(() => client.invalidateQueries({ queryKey: ['aside', shoot.id] }));
  };
  const look = data?.look;
  const right = look ? Number(typed.replace(/[\s.,]/g, '')) === look.frames && !!typed : false;
  return (
    <Panel open onClose={close} title={t`Delete for good`}>
      <div className="flex flex-col gap-3" data-testid="deletion" data-stage={data?.stage}>
        <Refused error={begun.error ?? start.error} />
        <Ended notice={data?.notice} />
        {data?.stage === 'looking' && (
          <>
            <p>
              <Trans>Looking whether their files exist elsewhere, too …</Trans>
            </p>
            <FramesDone label={t`Looked at`} done={data.done} total={data.total} />
          </>
        )}
        {look && data.stage === 'looked' && (
          <form
            className="flex flex-col gap-3"
            onSubmit={(event) => {
              event.preventDefault();
              if (right) start.mutate();
            }}
          >
            <p>
              <strong>{counted(look.frames, 'frame')}</strong>, {counted(look.files, 'file')},{' '}
              {size(look.size)}.
            </p>
            <Only look={look} />
            <fieldset className="flex flex-col gap-1">
              <legend className="sr-only">
                <Trans>Where to</Trans>
              </legend>
              <label className="flex items-center gap-2">
                <input type="radio" checked={trash} onChange={() => setTrash(true)} />
                <Trans>to the system’s trash, from where they can still be fetched</Trans>
              </label>
              <label className="flex items-center gap-2">
                <input type="radio" checked={!trash} onChange={() => setTrash(false)} />
                <Trans>for good, with no way back</Trans>
              </label>
            </fieldset>
            <label className="flex items-center gap-3">
              <Trans>Type the number of frames</Trans>
              <input
                type="text"
                inputMode="numeric"
                autoComplete="off"
                autoFocus
                aria-label={t`Number of frames`}
                className="h-9 w-28 rounded border border-line bg-paper px-2"
                value={typed}
                onChange={(event) => setTyped(event.target.value)}
              />
            </label>
            <div className="flex gap-3">
              <Button main type="submit" disabled={!right || start.isPending}>
                {trash ? t`Put in the trash` : t`Delete for good`}
              </Button>
              <Button onClick={close}>
                <Trans>Leave them</Trans>
              </Button>
            </div>
          </form>
        )}
        {data?.stage === 'deleting' && (
          <>
            <FramesDone label={t`Deleted`} done={data.done} total={data.total} />
            <div>
              <Button onClick={close}>
                <Trans>Stop deleting</Trans>
              </Button>
            </div>
          </>
        )}
        {data?.stage === 'deleted' && <Deleted deletion={data} onClose={close} />}
      </div>
    </Panel>
  );
}

function Only({ look }: { look: NonNullable<Deletion['look']> }) {
  if (!look.only_files)
    return (
      <p>
        <Trans>Each of these files has a copy elsewhere, which was compared just now.</Trans>
      </p>
    );
  return (
    <div className="rounded border border-reject bg-paper p-3">
      <p className="font-semibold text-wrong">
        {look.only_files === look.files
          ? plural(look.files, {
              one: 'Of this file no other copy was found.',
              other: 'Of these files no other copy was found.',
            })
          : t`Of ${counted(look.only_files, 'file')} (${size(look.only_size)}) no other copy was found:`}
      </p>
      <p className="max-h-32 overflow-auto text-[13px] break-words">
        {look.only.join(', ')}
        {look.only_files > look.only.length && ' …'}
      </p>
      <p className="text-[13px] text-quiet">
        <Trans>
          Winnow knows of copies that it made itself, and of equal frames in this shoot.
        </Trans>
      </p>
    </div>
  );
}

function Deleted({ deletion, onClose }: { deletion: Deletion; onClose: () => void }) {
  const byId = useShoot((state) => state.byId);
  return (
    <>
      <p role="status">
        <Trans>
          <strong>{counted(deletion.deleted, 'frame')}</strong> deleted.
        </Trans>
      </p>
      {deletion.problems.length > 0 && (
        <ul role="alert">
          {deletion.problems.slice(0, 20).map((problem) => (
            <li key={problem.frame}>
              <strong>{byId.get(problem.frame)?.name}</strong>{' '}
              <Trans>stays: {problem.notice}</Trans>
            </li>
          ))}
        </ul>
      )}
      <div>
        <Button main onClick={onClose}>
          <Trans>Close</Trans>
        </Button>
      </div>
    </>
  );
}
