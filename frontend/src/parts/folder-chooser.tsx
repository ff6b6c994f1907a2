import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import { useQuery } from '@tanstack/react-query';
import { useEffect, useRef, useState } from 'react';

import { api, ask, inWords, type FolderWithin } from '../api/client';
import { counted, size } from '../texts/numbers';
import { Button } from './button';
import { Panel } from './dialog';

/** Folders of this computer, one inside the other, to choose one. */
export function FolderChooser({
  at,
  onClose,
  onChoose,
}: {
  /** The folder to begin in; "" for the person's own. */
  at: string;
  onClose: () => void;
  onChoose: (folder: string) => void;
}) {
  const [path, setPath] = useState(at);
  const within = useQuery({
    queryKey: ['folders-within', path],
    queryFn: () => ask(api.GET('/api/folders/within', { params: { query: { path } } })),
    placeholderData: (before) => before,
    staleTime: 2000,
    retry: false,
  });
  const here = within.data;
  const up = here?.parent;
  return (
    <Panel open onClose={onClose} title={t`Choose a folder`} wide>
      <div
        className="grid h-[min(56vh,520px)] grid-cols-[11rem_minmax(0,1fr)] gap-4 max-sm:grid-cols-1"
        onKeyDown={(event) => {
          if (event.key === 'Enter' && (event.ctrlKey || event.metaKey) && here)
            onChoose(here.path);
          else if ((event.key === 'Backspace' || event.key === 'ArrowLeft') && up) setPath(up);
          else return;
          event.preventDefault();
        }}
      >
        <Places now={here?.path} onGo={setPath} />
        <div className="flex min-h-0 min-w-0 flex-col gap-2">
          <Crumbs path={here?.path ?? path} onGo={setPath} />
          {within.error ? (
            <p role="alert" className="font-semibold text-wrong">
              {inWords(within.error)}
            </p>
          ) : (
            here && <Folders key={here.path} within={here} onGo={setPath} />
          )}
        </div>
      </div>
      <div className="figures mt-4 flex items-center gap-3">
        <p className="min-w-0 flex-1 text-quiet">
          {here &&
            (here.wide
              ? t`This holds far more than one shoot.`
              : here.pictures > 0
                ? t`${counted(here.pictures, 'picture')} directly in “${lastOf(here.path)}”`
                : t`no picture directly in “${lastOf(here.path)}”`)}
        </p>
        <Button onClick={onClose}>
          <Trans>Cancel</Trans>
        </Button>
        <Button
          main
          disabled={!here || !!within.error}
          title="Ctrl+Enter"
          onClick={() => here && onChoose(here.path)}
        >
          <Trans>Use this folder</Trans>
        </Button>
      </div>
    </Panel>
  );
}

const lastOf = (path: string) => path.split('/').filter(Boolean).at(-1) ?? path;

/** Where somebody may begin: recent folders, the own ones, and disks. */
function Places({ now, onGo }: { now: string | undefined; onGo: (path: string) => void }) {
  const { data } = useQuery({
    queryKey: ['folder-places'],
    queryFn: () => ask(api.GET('/api/folders/places')),
    refetchInterval: 4000,
  });
  if (!data) return <nav aria-label={t`Places`} />;
  const place = (path: string, name: string, more = path) => (
    <li key={path}>
      <button
        type="button"
        title={more}
        aria-current={path === now || undefined}
        className="w-full truncate rounded px-2 py-1 text-left hover:bg-paper aria-[current]:bg-paper aria-[current]:font-semibold"
        onClick={() => onGo(path)}
      >
        {name}
      </button>
    </li>
  );
  return (
    <nav aria-label={t`Places`} className="flex min-h-0 flex-col gap-3 overflow-auto text-[13px]">
      {data.recent.length > 0 && (
        <PlaceList heading={t`Shoots lie in`}>
          {data.recent.map((path) => place(path, lastOf(path)))}
        </PlaceList>
      )}
      <PlaceList heading={t`This computer`}>
        {data.pictures && place(data.pictures, lastOf(data.pictures))}
        {place(data.home, t`my own folder`)}
        {place('/', t`all folders`)}
      </PlaceList>
      {data.disks.length > 0 && (
        <PlaceList heading={t`Disks`}>
          {data.disks.map((disk) =>
            place(disk.path, disk.name, t`${disk.path}: ${size(disk.free)} free`),
          )}
        </PlaceList>
      )}
    </nav>
  );
}

function PlaceList({ heading, children }: { heading: string; children: React.ReactNode }) {
  return (
    <section>
      <h3 className="px-2 text-quiet">{heading}</h3>
      <ul>{children}</ul>
    </section>
  );
}

/** The folders from the top to this one, each a way back. */
function Crumbs({ path, onGo }: { path: string; onGo: (path: string) => void }) {
  const names = path.split('/').filter(Boolean);
  return (
    <nav aria-label={t`Path`} className="flex flex-wrap items-baseline gap-x-1">
      <button type="button" className="underline" onClick={() => onGo('/')}>
        /
      </button>
      {names.map((name, n) => {
        const there = `/${names.slice(0, n + 1).join('/')}`;
        return n === names.length - 1 ? (
          <strong key={there} className="break-all">
            {name}
          </strong>
        ) : (
          <span key={there}>
            <button type="button" className="underline" onClick={() => onGo(there)}>
              {name}
            </button>{' '}
            /
          </span>
        );
      })}
    </nav>
  );
}

/** What is in a folder: arrows and letters walk, Enter goes in. */
function Folders({ within, onGo }: { within: FolderWithin; onGo: (path: string) => void }) {
  const list = useRef<HTMLUListElement>(null);
  const rows = () => [...(list.current?.querySelectorAll('button') ?? [])];
  useEffect(() => (rows()[0] ?? list.current)?.focus(), []);
  const walk = (event: React.KeyboardEvent) => {
    const all = rows();
    const at = all.indexOf(document.activeElement as HTMLButtonElement);
    const to = { ArrowDown: at + 1, ArrowUp: at - 1, Home: 0, End: all.length - 1 }[event.key];
    const letter = event.key.length === 1 && !event.ctrlKey && !event.altKey && !event.metaKey;
    const next =
      to !== undefined
        ? all[Math.max(0, Math.min(to, all.length - 1))]
        : letter && event.key !== ' '
          ? [...all.slice(at + 1), ...all].find((row) =>
              row.dataset.name!.toLowerCase().startsWith(event.key.toLowerCase()),
            )
          : event.key === 'ArrowRight'
            ? all[at]
            : undefined;
    if (!next) return;
    if (event.key === 'ArrowRight') next.click();
    else next.focus();
    event.preventDefault();
  };
  return (
    <ul
      ref={list}
      tabIndex={-1}
      aria-label={t`Folders`}
      className="figures min-h-0 flex-1 overflow-auto rounded border border-line bg-paper p-1 outline-none"
      onKeyDown={walk}
    >
      {within.folders.map((folder) => (
        <li key={folder.path}>
          <button
            type="button"
            data-name={folder.name}
            className="flex w-full items-baseline gap-3 rounded px-2 py-1 text-left hover:bg-chrome"
            onClick={() => onGo(folder.path)}
          >
            <span className="min-w-0 flex-1 truncate">{folder.name}</span>
            {folder.shoot && (
              <span className="truncate text-quiet">
                <Trans>open as “{folder.shoot}”</Trans>
              </span>
            )}
            <span className="w-28 shrink-0 text-right text-quiet">
              {folder.pictures ? counted(folder.pictures, 'picture') : ''}
            </span>
            <span aria-hidden="true" className="w-3 shrink-0 text-quiet">
              {folder.folders ? '›' : ''}
            </span>
          </button>
        </li>
      ))}
      {within.folders.length === 0 && (
        <li className="px-2 py-1 text-quiet">
          <Trans>No folder is in this one.</Trans>
        </li>
      )}
      {within.more && (
        <li className="px-2 py-1 text-quiet">
          <Trans>… and more: type the path to reach those.</Trans>
        </li>
      )}
    </ul>
  );
}
