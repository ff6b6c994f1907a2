import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { AlertDialog } from 'radix-ui';
import { useState } from 'react';
import { Link } from 'react-router';

import { api, ask, type Shoot } from '../../api/client';
import { Button } from '../../parts/button';
import { MovedFolder } from '../../parts/moved-folder';
import { companionFiles, otherFiles } from '../../parts/other-files';
import { counted, days, whole } from '../../texts/numbers';

/** One shoot in the list: what is in it, how far its cull is, and where its folders are. */
export function Card({ shoot }: { shoot: Shoot }) {
  const { tally, status } = shoot;
  const decided = tally.picks + tally.rejects;
  const companions = companionFiles(shoot.folders);
  const others = otherFiles(shoot.folders);
  const notice = shoot.folders.map((folder) => folder.notice).find(Boolean);
  return (
    <article className="overflow-hidden rounded-lg border border-line bg-paper">
      {/* The name below is the same link, for keys and for people who hear the page. */}
      <Link to={`/shoots/${shoot.id}`} aria-hidden="true" tabIndex={-1} className="block">
        <div className="grid h-36 grid-cols-4 gap-0.5 bg-stage">
          {shoot.cover.map((id) => (
            <img
              key={id}
              src={`/api/frames/${id}/thumbnail?cover=${tally.done}`}
              alt=""
              className="h-36 w-full object-cover"
            />
          ))}
        </div>
      </Link>
      <div className="figures flex flex-col gap-1.5 p-4">
        <div className="flex items-baseline justify-between gap-3">
          <Name shoot={shoot} />
          <span className="shrink-0 text-quiet">{counted(tally.frames, 'frame')}</span>
        </div>
        {shoot.first_at !== null && (
          <p className="text-quiet">{days(shoot.first_at, shoot.last_at ?? shoot.first_at)}</p>
        )}
        <p className="flex items-baseline justify-between gap-3">
          <span>
            <Trans>
              {counted(tally.picks, 'pick')} · {counted(tally.rejects, 'reject')} ·{' '}
              {whole(tally.undecided)} undecided
            </Trans>
          </span>
          <Target shoot={shoot} />
        </p>
        <progress
          className="h-1.5 w-full"
          max={Math.max(1, tally.frames)}
          value={decided}
          aria-label={t`Decided`}
        />
        {status.running && tally.done < tally.frames && (
          <p className="text-quiet">
            <Trans>
              indexing: {tally.done + tally.failed} of {tally.frames}
            </Trans>
          </p>
        )}
        {companions && (
          <p className="text-quiet">
            <Trans>with {companions}</Trans>
          </p>
        )}
        {others && (
          <p className="text-quiet">
            <Trans>beside them {others}</Trans>
          </p>
        )}
        {notice && (
          <p className="font-semibold text-wrong">
            {notice} <MovedFolder shoot={shoot} />
          </p>
        )}
        <div className="flex items-center justify-between gap-3 text-quiet">
          <span className="truncate" title={shoot.folders.map((folder) => folder.path).join('\n')}>
            {shoot.folders.map((folder) => folder.path).join(', ')}
          </span>
          <span className="flex shrink-0 gap-3">
            <Archive shoot={shoot} />
            <Forget shoot={shoot} />
          </span>
        </div>
      </div>
    </article>
  );
}

/** The shoot's name: a link, and a field while it is changed (Enter keeps it, Esc doesn't). */
function Name({ shoot }: { shoot: Shoot }) {
  const client = useQueryClient();
  const [typed, setTyped] = useState<string | null>(null);
  const { mutate } = useMutation({
    mutationFn: (name: string) =>
      ask(
        api.PATCH('/api/shoots/{shoot}', { params: { path: { shoot: shoot.id } }, body: { name } }),
      ),
    onSettled: () => client.invalidateQueries({ queryKey: ['shoots'] }),
  });
  if (typed === null) {
    return (
      <span className="flex min-w-0 items-baseline gap-3">
        <Link to={`/shoots/${shoot.id}`} className="truncate text-base font-bold">
          {shoot.name}
        </Link>
        <button type="button" className="text-quiet underline" onClick={() => setTyped(shoot.name)}>
          <Trans>rename</Trans>
        </button>
      </span>
    );
  }
  const keep = () => {
    if (typed.trim() && typed.trim() !== shoot.name) mutate(typed.trim());
    setTyped(null);
  };
  return (
    <input
      aria-label={t`Name of the shoot`}
      autoFocus
      maxLength={200}
      className="h-7 min-w-0 flex-1 rounded border border-line bg-paper px-2 text-base font-bold"
      value={typed}
      onFocus={(event) => event.target.select()}
      onChange={(event) => setTyped(event.target.value)}
      onBlur={keep}
      onKeyDown={(event) => {
        if (event.key === 'Enter') keep();
        else if (event.key === 'Escape') setTyped(null);
      }}
    />
  );
}

/** How many frames are to be kept: a field, empty for no target. */
function Target({ shoot }: { shoot: Shoot }) {
  const client = useQueryClient();
  const [typed, setTyped] = useState<string | null>(null);
  const { mutate } = useMutation({
    mutationFn: (keep_target: number) =>
      ask(
        api.PATCH('/api/shoots/{shoot}', {
          params: { path: { shoot: shoot.id } },
          body: { keep_target },
        }),
      ),
    onSettled: () => client.invalidateQueries({ queryKey: ['shoots'] }),
  });
  const shown = typed ?? String(shoot.keep_target ?? '');
  const keep = () => {
    const wanted = Number(shown);
    if (typed !== null && Number.isInteger(wanted) && wanted >= 0) mutate(wanted);
    setTyped(null);
  };
  return (
    <label className="flex items-baseline gap-2 text-quiet">
      <Trans>to keep</Trans>
      <input
        inputMode="numeric"
        maxLength={6}
        placeholder="–"
        className="h-6 w-14 rounded border border-line bg-paper px-1 text-right text-ink"
        value={shown}
        onFocus={(event) => event.target.select()}
        onChange={(event) => setTyped(event.target.value.replace(/\D/g, ''))}
        onBlur={keep}
        onKeyDown={(event) => {
          if (event.key === 'Enter') event.currentTarget.blur();
          else if (event.key === 'Escape') setTyped(null);
        }}
      />
    </label>
  );
}

/** A shoot that is done with is put out of the way; nothing of it changes. */
function Archive({ shoot }: { shoot: Shoot }) {
  const client = useQueryClient();
  const { mutate, isPending } = useMutation({
    mutationFn: () =>
      ask(
        api.PATCH('/api/shoots/{shoot}', {
          params: { path: { shoot: shoot.id } },
          body: { archived: !shoot.archived },
        }),
      ),
    onSettled: () => client.invalidateQueries({ queryKey: ['shoots'] }),
  });
  return (
    <button type="button" className="underline" disabled={isPending} onClick={() => mutate()}>
      {shoot.archived ? t`out of the archive` : t`to the archive`}
    </button>
  );
}

function Forget({ shoot }: { shoot: Shoot }) {
  const client = useQueryClient();
  const { mutate } = useMutation({
    mutationFn: () =>
      ask(api.DELETE('/api/shoots/{shoot}', { params: { path: { shoot: shoot.id } } })),
    onSettled: () => client.invalidateQueries({ queryKey: ['shoots'] }),
  });
  const marked = shoot.tally.picks + shoot.tally.rejects;
  return (
    <AlertDialog.Root>
      <AlertDialog.Trigger className="shrink-0 underline">
        <Trans>forget …</Trans>
      </AlertDialog.Trigger>
      <AlertDialog.Portal>
        <AlertDialog.Overlay className="fixed inset-0 z-40 bg-black/40" />
        <AlertDialog.Content className="fixed top-1/3 left-1/2 z-50 w-[min(480px,94vw)] -translate-x-1/2 rounded-lg border border-line bg-chrome p-6 shadow-2xl">
          <AlertDialog.Title className="text-lg font-bold">
            <Trans>Forget “{shoot.name}”?</Trans>
          </AlertDialog.Title>
          <AlertDialog.Description className="my-3">
            <Trans>
              The pictures and sidecars stay as they are. Winnow’s own marks of this shoot (
              {counted(marked, 'decision')}) are lost, unless they were written to sidecars: Wrap up
              does that.
            </Trans>
          </AlertDialog.Description>
          <div className="flex justify-end gap-2">
            <AlertDialog.Cancel asChild>
              <Button>
                <Trans>Keep it</Trans>
              </Button>
            </AlertDialog.Cancel>
            <AlertDialog.Action asChild>
              <Button main onClick={() => mutate()}>
                <Trans>Forget the shoot</Trans>
              </Button>
            </AlertDialog.Action>
          </div>
        </AlertDialog.Content>
      </AlertDialog.Portal>
    </AlertDialog.Root>
  );
}
