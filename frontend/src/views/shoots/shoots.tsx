import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { AlertDialog } from 'radix-ui';
import { useState } from 'react';
import { Link, useNavigate } from 'react-router';

import { api, ask, inWords, type Shoot } from '../../api/client';
import { Button } from '../../parts/button';
import { counted, size, whole } from '../../texts/numbers';
import { companionFiles, otherFiles } from '../../parts/other-files';
import { PathField } from '../../parts/path-field';
import { SharedSign } from '../../parts/shared-sign';
import { StartNotices } from '../../parts/start-notices';
import { useSettings } from '../../state/settings';
import { BringIn } from './bring-in';

/** All shoots, and the way to open a folder as a new one. */
export function Shoots() {
  useSettings();
  const { data, error } = useQuery({
    queryKey: ['shoots'],
    queryFn: () => ask(api.GET('/api/shoots')),
    refetchInterval: (query) =>
      query.state.data?.some((shoot) => shoot.status.running) ? 1000 : 15_000,
  });
  return (
    <main className="h-full overflow-auto">
      <StartNotices />
      <div className="mx-auto flex max-w-5xl flex-col gap-8 px-6 py-10">
        <div className="flex items-center gap-4">
          <h1 className="flex-1 text-2xl font-bold">
            <Trans>Shoots</Trans>
          </h1>
          <SharedSign />
        </div>
        <OpenFolder />
        <BringIn />
        {error && <p role="alert">{inWords(error)}</p>}
        {data?.length === 0 && (
          <p className="text-quiet">
            <Trans>
              No shoot yet. Open the folder your pictures are in: they stay where they are, and are
              never changed. Or bring them in from a memory card.
            </Trans>
          </p>
        )}
        <ul className="grid grid-cols-1 gap-5 md:grid-cols-2">
          {data?.map((shoot) => (
            <li key={shoot.id}>
              <Card shoot={shoot} />
            </li>
          ))}
        </ul>
        <SecondBackups />
        <QuickPictures />
      </div>
    </main>
  );
}

function OpenFolder() {
  const navigate = useNavigate();
  const [folders, setFolders] = useState<string[]>([]);
  const [typed, setTyped] = useState('');
  const { mutate, error, isPending } = useMutation({
    mutationFn: (wanted: string[]) => ask(api.POST('/api/shoots', { body: { folders: wanted } })),
    onSuccess: (shoot) => void navigate(`/shoots/${shoot.id}`),
  });
  const all = typed.trim() ? [...folders, typed.trim()] : folders;
  const open = () => all.length > 0 && mutate(all);
  return (
    <section className="rounded-lg border border-line bg-paper/60 p-5">
      <h2 className="mb-2 font-bold">
        <Trans>Open a folder as a shoot</Trans>
      </h2>
      {folders.map((folder) => (
        <p key={folder} className="mb-1 flex items-center gap-3">
          <span className="truncate">{folder}</span>
          <button
            type="button"
            className="underline"
            onClick={() => setFolders(folders.filter((one) => one !== folder))}
          >
            <Trans>leave out</Trans>
          </button>
        </p>
      ))}
      <div className="flex gap-2">
        <div className="min-w-0 flex-1">
          <PathField label={t`Folder`} value={typed} onChange={setTyped} onEnter={open} />
        </div>
        <Button
          disabled={!typed.trim()}
          onClick={() => {
            setFolders(all);
            setTyped('');
          }}
        >
          <Trans>Add another</Trans>
        </Button>
        <Button main disabled={!all.length || isPending} onClick={open}>
          <Trans>Open</Trans>
        </Button>
      </div>
      {error && (
        <p role="alert" className="mt-2 font-semibold text-wrong">
          {inWords(error)}
        </p>
      )}
      <p className="mt-2 text-quiet">
        <Trans>Pictures in the folder and below it are found. Nothing is moved or changed.</Trans>
      </p>
    </section>
  );
}

/** Where a second copy of every backup goes: a folder on another disk. */
function SecondBackups() {
  const client = useQueryClient();
  const [settings] = useSettings();
  const [typed, setTyped] = useState<string | null>(null);
  const { mutate, error, reset } = useMutation({
    mutationFn: (place: string) =>
      ask(api.PUT('/api/settings', { body: { ...settings, backup_place: place } })),
    onSuccess: (saved) => {
      client.setQueryData(['settings'], saved);
      setTyped(null);
    },
  });
  const keep = (value: string) => {
    if (value.trim() === settings.backup_place) setTyped(null);
    else mutate(value.trim());
  };
  return (
    <section className="figures flex flex-wrap items-baseline gap-x-3 text-quiet">
      <label className="flex flex-1 items-baseline gap-2 whitespace-nowrap">
        <Trans>Backups of all marks go to this folder as well:</Trans>
        <input
          className="h-6 min-w-0 flex-1 rounded border border-line bg-paper px-1 text-ink"
          placeholder={t`none; best on another disk`}
          maxLength={4096}
          spellCheck={false}
          value={typed ?? settings.backup_place}
          onChange={(event) => {
            reset();
            setTyped(event.target.value);
          }}
          onBlur={(event) => keep(event.target.value)}
          onKeyDown={(event) => {
            if (event.key === 'Enter') keep(event.currentTarget.value);
            if (event.key === 'Escape') setTyped(null);
          }}
        />
      </label>
      {error && (
        <p role="alert" className="w-full font-semibold text-wrong">
          {inWords(error)}
        </p>
      )}
    </section>
  );
}

/** How much room the quick pictures take, with a limit to set and a button that empties it. */
function QuickPictures() {
  const client = useQueryClient();
  const [settings, change] = useSettings();
  const { data } = useQuery({
    queryKey: ['cache', settings.cache_gb],
    queryFn: () => ask(api.GET('/api/cache')),
  });
  const { mutate, isPending } = useMutation({
    mutationFn: () => ask(api.DELETE('/api/cache')),
    onSettled: () => client.invalidateQueries({ queryKey: ['cache'] }),
  });
  if (!data) return null;
  const keep = (field: HTMLInputElement) => {
    const wanted = Number(field.value);
    if (wanted >= 1 && wanted <= 10_000 && wanted !== settings.cache_gb)
      change({ ...settings, cache_gb: Math.round(wanted) });
    else field.value = String(settings.cache_gb);
  };
  return (
    <section className="figures flex flex-wrap items-baseline gap-x-3 text-quiet">
      <span>
        <Trans>Pictures kept so that looking is quick: {size(data.bytes)} of at most</Trans>{' '}
        <input
          key={settings.cache_gb}
          aria-label={t`Most room for quick pictures, in GB`}
          inputMode="numeric"
          maxLength={5}
          className="h-6 w-14 rounded border border-line bg-paper px-1 text-right text-ink"
          defaultValue={settings.cache_gb}
          onBlur={(event) => keep(event.target)}
          onKeyDown={(event) => {
            if (event.key === 'Enter') event.currentTarget.blur();
          }}
        />{' '}
        <Trans>
          GB. The ones not looked at for longest go first, and are made again when needed.
        </Trans>
      </span>
      <button
        type="button"
        className="underline"
        disabled={isPending || !data.bytes}
        onClick={() => mutate()}
      >
        <Trans>remove them now</Trans>
      </button>
    </section>
  );
}

function Card({ shoot }: { shoot: Shoot }) {
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
          <span className="text-quiet">{counted(tally.frames, 'frame')}</span>
        </div>
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
        {notice && <p className="font-semibold text-wrong">{notice}</p>}
        <div className="flex items-center justify-between gap-3 text-quiet">
          <span className="truncate" title={shoot.folders.map((one) => one.path).join('\n')}>
            {shoot.folders.map((one) => one.path).join(', ')}
          </span>
          <Forget shoot={shoot} />
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
