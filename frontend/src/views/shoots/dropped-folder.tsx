import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import { useEffect, useState, type ReactNode } from 'react';
import { useNavigate } from 'react-router';

import { api, ask, inWords } from '../../api/client';
import { Button } from '../../parts/button';
import { Panel } from '../../parts/dialog';
import { FolderChooser } from '../../parts/folder-chooser';
import { useGuest } from '../../state/sharing';
import { dropped, isFromOutside, type Dropped } from './dropped';

/** Takes a folder that is dropped anywhere on the window, and opens it as a shoot. */
export function DroppedFolder({ children }: { children: ReactNode }) {
  const guest = useGuest();
  const navigate = useNavigate();
  const [over, setOver] = useState(false);
  const [asked, setAsked] = useState<{ what: Dropped; folders: string[]; error?: string } | null>(
    null,
  );
  const [choosing, setChoosing] = useState(false);

  useEffect(() => {
    if (guest) return;
    const open = (path: string) => void navigate(`/?open=${encodeURIComponent(path)}`);
    // What is dragged within the page, a picture as a rule, is no folder.
    let inside = false;
    const begin = () => {
      inside = true;
    };
    const end = () => {
      inside = false;
    };
    const move = (event: DragEvent) => {
      if (inside || !isFromOutside(event)) return;
      event.preventDefault();
      setOver(true);
    };
    const leave = (event: DragEvent) => {
      if (!event.relatedTarget) setOver(false);
    };
    const drop = (event: DragEvent) => {
      setOver(false);
      if (inside || !isFromOutside(event)) return;
      // Without this the browser leaves the page to show the file.
      event.preventDefault();
      void dropped(event.dataTransfer!).then(async (what) => {
        if ('path' in what) {
          open(what.path);
          return;
        }
        try {
          const { folders } = await ask(api.POST('/api/folders/find', { body: what }));
          if (folders.length === 1) open(folders[0]!);
          else setAsked({ what, folders });
        } catch (error) {
          setAsked({ what, folders: [], error: inWords(error) });
        }
      });
    };
    const heard = { dragstart: begin, dragend: end, dragover: move, dragleave: leave, drop };
    for (const [name, hear] of Object.entries(heard))
      window.addEventListener(name, hear as EventListener);
    return () => {
      for (const [name, hear] of Object.entries(heard))
        window.removeEventListener(name, hear as EventListener);
    };
  }, [guest, navigate]);

  const take = (path: string) => {
    setAsked(null);
    setChoosing(false);
    void navigate(`/?open=${encodeURIComponent(path)}`);
  };
  const name = asked && 'name' in asked.what ? asked.what.name : '';
  return (
    <>
      {children}
      {over && (
        <div className="pointer-events-none fixed inset-3 z-50 flex items-center justify-center rounded-lg border-2 border-dashed border-accent bg-chrome/85 text-xl font-bold">
          <Trans>Let go to open this folder as a shoot</Trans>
        </div>
      )}
      <Panel
        open={!!asked && !choosing}
        onClose={() => setAsked(null)}
        title={asked?.folders.length ? t`Which of these is it?` : t`Where does this folder lie?`}
      >
        {asked?.error && (
          <p role="alert" className="mb-3 font-semibold text-wrong">
            {asked.error}
          </p>
        )}
        {asked?.folders.length ? (
          <ul className="mb-3 flex flex-col gap-1">
            {asked.folders.map((folder) => (
              <li key={folder}>
                <button
                  type="button"
                  className="w-full rounded border border-line bg-paper px-3 py-2 text-left break-all hover:border-quiet"
                  onClick={() => take(folder)}
                >
                  {folder}
                </button>
              </li>
            ))}
          </ul>
        ) : (
          <p className="mb-3">
            {name ? (
              <Trans>
                A browser tells the name of what is dropped, “{name}”, but not where it lies, and it
                was not found where pictures usually are.
              </Trans>
            ) : (
              <Trans>
                A browser tells the names of what is dropped, but not where it lies, and no folder
                that holds all of it was found where pictures usually are.
              </Trans>
            )}
          </p>
        )}
        <div className="flex justify-end">
          <Button main={!asked?.folders.length} onClick={() => setChoosing(true)}>
            <Trans>Choose the folder …</Trans>
          </Button>
        </div>
      </Panel>
      {choosing && <FolderChooser at="" onClose={() => setChoosing(false)} onChoose={take} />}
    </>
  );
}
