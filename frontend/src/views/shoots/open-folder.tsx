import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import { useMutation } from '@tanstack/react-query';
import { useEffect, useState } from 'react';
import { useNavigate, useSearchParams } from 'react-router';

import { api, ask, type MovedShoot } from '../../api/client';
import { Button } from '../../parts/button';
import { PathField } from '../../parts/path-field';
import { placeFolder } from '../../parts/moved-folder';
import { Refused } from '../../parts/refused';

/** Folders to open as a shoot. Where they seem to be those of one that moved, that is asked. */
export function OpenFolder() {
  const [query] = useSearchParams();
  // The command line asks here what it found.
  const [given] = useState(query.get('open') ?? '');
  const navigate = useNavigate();
  const [folders, setFolders] = useState<string[]>([]);
  const [typed, setTyped] = useState(given);
  const [asked, setAsked] = useState<{ sentence: string; moved: MovedShoot } | null>(null);
  // Going back does not ask the command line's question again.
  const go = (shoot: number) => void navigate(`/shoots/${shoot}`, { replace: !!given });
  const { mutate, error, isPending } = useMutation({
    mutationFn: async ({ folders, asNew }: { folders: string[]; asNew: boolean }) => {
      const answer = await api.POST('/api/shoots', { body: { folders, as_new: asNew } });
      if (answer.response.status !== 409) return ask(Promise.resolve(answer));
      const { detail, moved } = answer.error as { detail: string; moved: MovedShoot };
      setAsked({ sentence: detail, moved });
      return null;
    },
    onSuccess: (shoot) => shoot && go(shoot.id),
  });
  const point = useMutation({
    mutationFn: ({ shoot, folder, place }: MovedShoot) => placeFolder(shoot, folder, place),
    onSuccess: (shoot) => go(shoot.id),
  });
  const all = typed.trim() ? [...folders, typed.trim()] : folders;
  const open = (asNew = false) => all.length > 0 && mutate({ folders: all, asNew });
  const type = (text: string) => {
    setTyped(text);
    setAsked(null);
  };
  useEffect(() => {
    if (given) mutate({ folders: [given], asNew: false });
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
      <div className="flex gap-2">
        <div className="min-w-0 flex-1">
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
      {asked && (
        <div role="alert" className="mt-3 flex flex-wrap items-center gap-2">
          <p className="w-full font-semibold">{asked.sentence}</p>
          <Button main disabled={point.isPending} onClick={() => point.mutate(asked.moved)}>
            <Trans>Open “{asked.moved.name}” here, with its marks</Trans>
          </Button>
          <Button disabled={isPending} onClick={() => open(true)}>
            <Trans>Open it as a new shoot</Trans>
          </Button>
        </div>
      )}
      <Refused error={wrong} />
      <p className="mt-2 text-quiet">
        <Trans>Pictures in the folder and below it are found. Nothing is moved or changed.</Trans>
      </p>
    </section>
  );
}
