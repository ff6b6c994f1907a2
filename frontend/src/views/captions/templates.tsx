import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';

import { Help } from '../../parts/help';
import { api, ask, inWords, type TextsFound, type TextTemplate } from '../../api/client';
import { Button } from '../../parts/button';
import { write } from './use-texts';

/** Texts to be used again: kept from what is shown, or written with fields in braces. */
export function Templates({
  frames,
  found,
  onProblem,
}: {
  frames: readonly number[];
  found: TextsFound | undefined;
  onProblem: (words: string) => void;
}) {
  const client = useQueryClient();
  const [name, setName] = useState('');
  const [editing, setEditing] = useState<TextTemplate | null>(null);
  const { data: templates } = useQuery({
    queryKey: ['text-templates'],
    queryFn: () => ask(api.GET('/api/text-templates')),
  });
  const kept = (after: TextTemplate[]) => {
    client.setQueryData(['text-templates'], after);
    onProblem('');
    setEditing(null);
    setName('');
  };
  const failed = (error: unknown) => onProblem(inWords(error));
  const save = useMutation({
    mutationFn: (body: TextTemplate) => ask(api.PUT('/api/text-templates', { body })),
    onSuccess: kept,
    onError: failed,
  });
  const forget = useMutation({
    mutationFn: (gone: string) =>
      ask(api.DELETE('/api/text-templates', { params: { query: { name: gone } } })),
    onSuccess: kept,
    onError: failed,
  });
  const keep = () => {
    if (!found || !name.trim()) return;
    const { keywords, ...others } = found.texts;
    const put = Object.fromEntries(Object.entries(others).filter(([, value]) => value.length));
    save.mutate({ name: name.trim(), put, add: keywords });
  };
  if (editing) {
    return (
      <Editor
        template={editing}
        onCancel={() => setEditing(null)}
        onSave={(template) => save.mutate(template)}
        onForget={() => forget.mutate(editing.name)}
      />
    );
  }
  const [date, shoot, named] = ['{date}', '{shoot}', '{name}'];
  return (
    <details className="border-b border-line pb-2" aria-label={t`Templates`}>
      <summary className="cursor-pointer">
        <Trans>Templates</Trans>
        {templates?.length ? ` (${templates.length})` : ''}
      </summary>
      {templates?.map((template) => (
        <div key={template.name} className="mt-1.5 flex items-center gap-2">
          <button
            type="button"
            className="min-w-0 flex-1 truncate rounded border border-line bg-paper px-2 py-1 text-left hover:border-quiet"
            title={t`use it on these frames`}
            onClick={() =>
              write(frames, { put: template.put, add: template.add, filled: true }, onProblem)
            }
          >
            {template.name}
          </button>
          <button
            type="button"
            aria-label={t`Change template ${template.name}`}
            className="underline"
            onClick={() => setEditing(template)}
          >
            <Trans>change</Trans>
          </button>
        </div>
      ))}
      <div className="mt-1.5 flex gap-2">
        <input
          type="text"
          aria-label={t`Name of a new template`}
          placeholder={t`keep what is shown as …`}
          className="min-w-0 flex-1 rounded border border-line bg-paper px-2 py-1"
          maxLength={60}
          value={name}
          onChange={(event) => setName(event.target.value)}
          onKeyDown={(event) => event.key === 'Enter' && keep()}
        />
        <Button disabled={!name.trim() || !found} onClick={keep}>
          <Trans>Keep</Trans>
        </Button>
        <Help about={t`Templates`}>
          <p>
            <Trans>
              A template fills several fields at once. In its texts, fields in braces such as {date}
              , {shoot} or {named} are filled for each frame when it is used. Fields that a template
              leaves empty stay as they are; its keywords are added.
            </Trans>
          </p>
        </Help>
      </div>
    </details>
  );
}

const FIELDS = [
  ['title', t`Title`],
  ['caption', t`Caption`],
  ['creators', t`Creator`],
  ['rights', t`Copyright`],
  ['location', t`Place`],
  ['city', t`City`],
  ['state', t`State`],
  ['country', t`Country`],
  ['instructions', t`Instructions`],
] as const;

function Editor({
  template,
  onCancel,
  onSave,
  onForget,
}: {
  template: TextTemplate;
  onCancel: () => void;
  onSave: (template: TextTemplate) => void;
  onForget: () => void;
}) {
  const { data: filled } = useQuery({
    queryKey: ['texts-filled'],
    queryFn: () => ask(api.GET('/api/texts/filled')),
    staleTime: Infinity,
  });
  const text = (value: string | string[] | undefined) =>
    Array.isArray(value) ? value.join('; ') : (value ?? '');
  const [draft, setDraft] = useState<Record<string, string>>(() => ({
    ...Object.fromEntries(FIELDS.map(([field]) => [field, text(template.put[field])])),
    keywords: template.add.join('; '),
  }));
  const split = (value: string) =>
    value
      .split(';')
      .map((word) => word.trim())
      .filter(Boolean);
  const save = () => {
    const put = Object.fromEntries(
      FIELDS.flatMap(([field]) => {
        const value = draft[field]!.trim();
        return value ? [[field, field === 'creators' ? split(value) : value]] : [];
      }),
    );
    onSave({ name: template.name, put, add: split(draft['keywords']!) });
  };
  return (
    <section
      aria-label={t`Template ${template.name}`}
      className="flex flex-col gap-1.5 border-t border-line pt-3"
    >
      <h3 className="font-bold">
        <Trans>Template “{template.name}”</Trans>
      </h3>
      {[...FIELDS, ['keywords', t`Keywords to add`] as const].map(([field, words]) => (
        <label key={field} className="flex flex-col text-[13px] text-quiet">
          {words}
          <input
            type="text"
            aria-label={t`${words} of the template`}
            className="rounded border border-line bg-paper px-2 py-1 text-base text-ink"
            value={draft[field]}
            onChange={(event) => setDraft({ ...draft, [field]: event.target.value })}
          />
        </label>
      ))}
      <details>
        <summary className="cursor-pointer text-[13px] underline">
          <Trans>fields in braces</Trans>
        </summary>
        <dl className="grid grid-cols-[auto_1fr] gap-x-2 text-[13px]">
          {filled?.map((text) => (
            <div key={text.name} className="contents">
              <dt>{`{${text.name}}`}</dt>
              <dd className="text-quiet">{text.words}</dd>
            </div>
          ))}
        </dl>
      </details>
      <div className="flex flex-wrap gap-2">
        <Button main onClick={save}>
          <Trans>Keep</Trans>
        </Button>
        <Button onClick={onCancel}>
          <Trans>Leave</Trans>
        </Button>
        <Button onClick={onForget}>
          <Trans>Remove</Trans>
        </Button>
      </div>
    </section>
  );
}
