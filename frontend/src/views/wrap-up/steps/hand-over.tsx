import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';

import { api, ask, type Program, type Shoot } from '../../../api/client';
import { Button } from '../../../parts/button';
import { Refused } from '../../../parts/refused';
import { counted } from '../../../texts/numbers';
import { settled } from '../../../state/marking';
import { ChooseFrames, useWhichFrames } from '../which-frames';
import { Step } from '../wrap-up';

const FRESH: Program = { name: '', command: '', which: 'ready' };
const STATES = { running: t`is running`, ended: t`has ended`, failed: 'failed' };

/** The files go to another program, as the arguments of a command line of the person's own. */
export function HandOver({ shoot }: { shoot: Shoot }) {
  const client = useQueryClient();
  const frames = useWhichFrames();
  const [chosen, setChosen] = useState('');
  const [draft, setDraft] = useState<Program | null>(null);
  const path = { params: { path: { shoot: shoot.id } } };
  const { data: programs } = useQuery({
    queryKey: ['programs'],
    queryFn: () => ask(api.GET('/api/programs')),
  });
  const { data: runs } = useQuery({
    queryKey: ['runs', shoot.id],
    queryFn: () => ask(api.GET('/api/shoots/{shoot}/hand-over', path)),
  });
  const program = programs?.find((program) => program.name === chosen) ?? programs?.[0];
  const start = useMutation({
    mutationFn: (name: string) =>
      settled().then(() =>
        ask(
          api.POST('/api/shoots/{shoot}/hand-over', {
            ...path,
            body: { ...frames.wanted, program: name },
          }),
        ),
      ),
    onSuccess: (after) => client.setQueryData(['runs', shoot.id], after),
  });
  const kept = (after: Program[], name: string) => {
    client.setQueryData(['programs'], after);
    setChosen(name);
    setDraft(null);
  };
  const save = useMutation({
    mutationFn: (body: Program) => ask(api.PUT('/api/programs', { body })),
    onSuccess: (after, { name }) => kept(after, name),
  });
  const forget = useMutation({
    mutationFn: (name: string) => ask(api.DELETE('/api/programs', { params: { query: { name } } })),
    onSuccess: (after) => kept(after, ''),
  });
  return (
    <Step number={5} title={t`Hand to another program`}>
      {programs && !program && !draft && (
        <p className="text-quiet">
          <Trans>Any program that takes files on its command line can be started from here.</Trans>
        </p>
      )}
      {program && !draft && (
        <>
          <div className="flex flex-wrap items-center gap-x-4 gap-y-2">
            <ChooseFrames which={frames} label={t`What is handed over`} />
            <select
              aria-label={t`Program`}
              className="h-8 rounded border border-line bg-paper px-2"
              value={program.name}
              onChange={(event) => setChosen(event.target.value)}
            >
              {programs?.map((program) => (
                <option key={program.name}>{program.name}</option>
              ))}
            </select>
            <button type="button" className="underline" onClick={() => setDraft(program)}>
              <Trans>change</Trans>
            </button>
          </div>
          <p className="truncate text-[13px] text-quiet" title={program.command}>
            {program.command}
          </p>
        </>
      )}
      {draft && (
        <Editor
          draft={draft}
          onEdit={setDraft}
          onForget={
            programs?.some((program) => program.name === draft.name)
              ? () => forget.mutate(draft.name)
              : null
          }
          onCancel={() => setDraft(null)}
          onSave={() => save.mutate(draft)}
        />
      )}
      <Refused error={start.error ?? save.error ?? forget.error} />
      {!draft && (
        <div className="flex gap-3">
          {program && (
            <Button
              main
              disabled={frames.number === 0 || start.isPending}
              onClick={() => start.mutate(program.name)}
            >
              <Trans>Start it with {counted(frames.number, frames.noun)}</Trans>
            </Button>
          )}
          <Button onClick={() => setDraft(FRESH)}>
            <Trans>Add a program</Trans>
          </Button>
        </div>
      )}
      {!!runs?.length && (
        <ul role="status" aria-label={t`Programs that were started`}>
          {runs.slice(0, 5).map((run) => (
            <li key={run.id} data-run={run.state}>
              <Trans>
                <strong>{run.program}</strong> {STATES[run.state]}, started with{' '}
                {counted(run.files, 'file')}
              </Trans>
              {run.notice && `: ${run.notice}`}
            </li>
          ))}
        </ul>
      )}
    </Step>
  );
}

function Editor({
  draft,
  onEdit,
  onForget,
  onCancel,
  onSave,
}: {
  draft: Program;
  onEdit: (draft: Program) => void;
  onForget: (() => void) | null;
  onCancel: () => void;
  onSave: () => void;
}) {
  const field = 'h-8 rounded border border-line bg-paper px-2';
  const ready = draft.name.trim() && draft.command.trim();
  const files = '{files}';
  return (
    <form
      className="flex flex-col gap-2 rounded border border-line bg-paper p-3"
      onSubmit={(event) => {
        event.preventDefault();
        if (ready) onSave();
      }}
    >
      <label className="grid grid-cols-[6rem_1fr] items-center gap-2">
        <Trans>Name</Trans>
        <input
          className={field}
          maxLength={60}
          value={draft.name}
          onChange={(event) => onEdit({ ...draft, name: event.target.value })}
        />
      </label>
      <label className="grid grid-cols-[6rem_1fr] items-center gap-2">
        <Trans>Command</Trans>
        <input
          className={field}
          spellCheck={false}
          placeholder={t`/usr/bin/program --option ${files}`}
          value={draft.command}
          onChange={(event) => onEdit({ ...draft, command: event.target.value })}
        />
      </label>
      <label className="grid grid-cols-[6rem_auto_1fr] items-center gap-2">
        <Trans>Files</Trans>
        <select
          className={field}
          value={draft.which}
          onChange={(event) =>
            onEdit({ ...draft, which: event.target.value as NonNullable<Program['which']> })
          }
        >
          <option value="ready">{t`JPEG, where there is one`}</option>
          <option value="raw">{t`raw, where there is one`}</option>
          <option value="all">{t`raw and JPEG`}</option>
        </select>
      </label>
      <p className="text-[13px] text-quiet">
        <Trans>
          The files stand where {files} is, or at the end, each as one word. Words with blanks go in
          quotation marks.
        </Trans>
      </p>
      <div className="flex gap-3">
        <Button main type="submit" disabled={!ready}>
          <Trans>Keep the program</Trans>
        </Button>
        <Button onClick={onCancel}>
          <Trans>Back</Trans>
        </Button>
        {onForget && (
          <button type="button" className="underline" onClick={onForget}>
            <Trans>forget it</Trans>
          </button>
        )}
      </div>
    </form>
  );
}
