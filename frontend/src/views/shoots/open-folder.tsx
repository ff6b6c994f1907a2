import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import { useMutation } from '@tanstack/react-query';
import { useEffect, useState } from 'react';
import { useNavigate, useSearchParams } from 'react-router';

import { api, ask, type Asked, type MovedShoot } from '../../api/client';
import { Button } from '../../parts/button';
import { FolderChooser } from '../../parts/folder-chooser';
import { PathField } from '../../parts/path-field';
import { placeFolder } from '../../parts/moved-folder';
import { Refused } from '../../parts/refused';

/** Folders to open as a shoot. Where they seem to be those of one that moved, that is asked. */
export function OpenFolder() {
  const [query] = useSearchParams();
  // The command line asks here what it found.
  const [given] = useState(query.get('open') ?? '');
  const navigate = useNavigate();
  const [choosing, setChoosing] = useState(false);
  const [folders, setFolders] = useState<string[]>([]);
  const [typed, setTyped] = useState(given);
  const [asked, setAsked] = useState<Asked | null>(null);
  // Going back does not ask the command line's question again.
  const go = (shoot: number) => void navigate(`/shoots/${shoot}`, { replace: !!given });
  const { mutate, error, isPending } = useMutation({
    mutationFn: async (wanted: { folders: string[]; as_new?: boolean; whole?: boolean }) => {
      const answer = await api.POST('/api/shoots', {
        body: { as_new: false, whole: false, ...wanted },
      });
      if (answer.response.status !== 409) return ask(Promise.resolve(answer));
      setAsked(answer.error as Asked);
      return null;
    },
    onSuccess: (shoot) => shoot && go(shoot.id),
  });
  const point = useMutation({
    mutationFn: ({ shoot, folder, place }: MovedShoot) => placeFolder(shoot, folder, place),
    onSuccess: (shoot) => go(shoot.id),
  });
  const all = typed.trim() ? [...folders, typed.trim()] : folders;
  const open = (anyway = {}) => all.length > 0 && mutate({ folders: all, ...anyway });
  const type = (text: string) => {
    setTyped(text);
    setAsked(null);
  };
  useEffect(() => {
    if (given) mutate({ folders: [given] });
  }, [given, mutate]);
  const wrong = error ?? point.error;
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
            onClick={() => setFolders(folders.filter((other) => other !== folder))}
          >
            <Trans>leave out</Trans>
          </button>
        </p>
      ))}
      <div className="flex flex-wrap gap-2">
        <div className="min-w-72 flex-1 max-[400px]:min-w-full">
          <PathField label={t`Folder`} value={typed} onChange={type} onEnter={() => open()} />
        </div>
        <Button
          disabled={!typed.trim()}
          onClick={() => {
            setFolders(all);
            type('');
          }}
        >
          <Trans>Add another</Trans>
        </Button>
        <Button main={!asked} disabled={!all.length || isPending} onClick={() => open()}>
          <Trans>Open</Trans>
        </Button>
      </div>
      {asked?.moved && (
        <Question words={asked.detail}>
          <Button main disabled={point.isPending} onClick={() => point.mutate(asked.moved!)}>
            <Trans>Open “{asked.moved.name}” here, with its marks</Trans>
          </Button>
          <Button disabled={isPending} onClick={() => open({ as_new: true })}>
            <Trans>Open it as a new shoot</Trans>
          </Button>
        </Question>
      )}
      {asked?.wide && (
        <Question words={asked.detail}>
          <Button main onClick={() => setChoosing(true)}>
            <Trans>Choose the shoot’s folder …</Trans>
          </Button>
          <Button disabled={isPending} onClick={() => open({ whole: true })}>
            <Trans>Open all of it</Trans>
          </Button>
        </Question>
      )}
      {choosing && asked?.wide && (
        <FolderChooser
          at={asked.wide}
          onClose={() => setChoosing(false)}
          onChoose={(folder) => {
            setChoosing(false);
            type(folder);
          }}
        />
      )}
      <Refused error={wrong} />
      <p className="mt-2 text-quiet">
        <Trans>
          Pictures in the folder and below it are found. Nothing is moved or changed. A folder can
          also be dropped on this window.
        </Trans>
      </p>
    </section>
  );
}

function Question({ words, children }: { words: string; children: React.ReactNode }) {
  return (
    <div role="alert" className="mt-3 flex flex-wrap items-center gap-2">
      <p className="w-full font-semibold">{words}</p>
      {children}
    </div>
  );
}
