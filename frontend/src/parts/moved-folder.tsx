import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';

import { api, ask, type Shoot } from '../api/client';
import { Button } from './button';
import { Panel } from './dialog';
import { PathField } from './path-field';
import { Refused } from './refused';

/** Say where a source folder is now. */
export function placeFolder(shoot: number, folder: number, place: string): Promise<Shoot> {
  return ask(
    api.POST('/api/shoots/{shoot}/folders/{folder}/place', {
      params: { path: { shoot, folder } },
      body: { place },
    }),
  );
}

/** Of a shoot whose folder is not there: a way to say where it is now. Nothing where all are. */
export function MovedFolder({ shoot }: { shoot: Shoot }) {
  const client = useQueryClient();
  const gone = shoot.folders.find((folder) => folder.notice);
  const [open, setOpen] = useState(false);
  const [typed, setTyped] = useState('');
  const { mutate, error, isPending } = useMutation({
    mutationFn: () => placeFolder(shoot.id, gone!.id, typed.trim()),
    onSuccess: () => {
      setOpen(false);
      return client.invalidateQueries();
    },
  });
  if (!gone) return null;
  const use = () => typed.trim() && mutate();
  return (
    <>
      <button type="button" className="underline" onClick={() => setOpen(true)}>
        <Trans>It is elsewhere now …</Trans>
      </button>
      <Panel open={open} onClose={() => setOpen(false)} title={t`Where is “${shoot.name}” now?`}>
        <p className="mb-3">
          <Trans>
            It was in “{gone.path}”. Name the folder that holds its frames now: they keep their
            marks, their groups and what was measured.
          </Trans>
        </p>
        <div className="flex gap-2">
          <div className="min-w-0 flex-1">
            <PathField
              label={t`Folder`}
              value={typed}
              onChange={setTyped}
              onEnter={use}
              autoFocus
            />
          </div>
          <Button main disabled={!typed.trim() || isPending} onClick={use}>
            <Trans>Use this folder</Trans>
          </Button>
        </div>
        <Refused error={error} />
      </Panel>
    </>
  );
}
