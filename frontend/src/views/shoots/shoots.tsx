import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { useSearchParams } from 'react-router';

import { api, ask, inWords } from '../../api/client';
import { size } from '../../texts/numbers';
import { SharedSign } from '../../parts/shared-sign';
import { StartNotices } from '../../parts/start-notices';
import { useSettings } from '../../state/settings';
import { BringIn } from './bring-in';
import { OpenFolder } from './open-folder';
import { ShootList } from './shoot-list';

/** All shoots, and the way to open a folder as a new one. */
export function Shoots() {
  useSettings();
  const [query] = useSearchParams();
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
        <OpenFolder key={query.get('open')} />
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
        {data && <ShootList shoots={data} />}
        <SecondBackups />
        <QuickPictures />
      </div>
    </main>
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
