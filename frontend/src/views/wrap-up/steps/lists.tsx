import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import { useMutation } from '@tanstack/react-query';
import { useRef, useState } from 'react';

import { api, ask, inWords, WINDOW, type ListCame, type Shoot } from '../../../api/client';
import { Button } from '../../../parts/button';
import { fileName, saveText } from '../../../parts/files';
import { counted } from '../../../texts/numbers';
import { differing, labelName, PART_WORDS, partInWords } from '../../../state/mark-words';
import { useLabels } from '../../../state/settings';
import { useShoot } from '../../../state/shoot';
import { refind } from '../../../state/sync';
import { Thumbnail } from '../thumbnail';
import { Step } from '../wrap-up';
import { Tick } from '../../../parts/tick';

type Which = 'shown' | 'selected' | 'picks' | 'all';
type Part = 'marks' | 'texts' | 'facts' | 'hints';
const PARTS: readonly [Part, string][] = [
  ['marks', t`marks`],
  ['texts', t`captions and rights`],
  ['facts', t`facts of the exposure`],
  ['hints', t`hints`],
];
const MOST_BYTES = 32 * 1024 * 1024;

/** Lists of frames for a spreadsheet or a client, and back. */
export function Lists({ shoot }: { shoot: Shoot }) {
  return (
    <Step number={7} title={t`Lists`}>
      <ListOut shoot={shoot} />
      <ListIn shoot={shoot} />
    </Step>
  );
}

function ListOut({ shoot }: { shoot: Shoot }) {
  const visible = useShoot((state) => state.visible);
  const selection = useShoot((state) => state.selection);
  const frames = useShoot((state) => state.frames);
  const marks = useShoot((state) => state.marks);
  useShoot((state) => state.marksVersion);
  const [which, setWhich] = useState<Which>('picks');
  const [form, setForm] = useState<'csv' | 'json'>('csv');
  const [parts, setParts] = useState<readonly Part[]>(['marks', 'texts']);
  const all = frames.map((frame) => frame.id);
  const ids: Record<Which, readonly number[]> = {
    picks: all.filter((id) => marks.get(id)?.decision === 'pick'),
    shown: visible,
    selected: selection,
    all,
  };
  const make = useMutation({
    mutationFn: () =>
      ask(
        api.POST('/api/shoots/{shoot}/lists', {
          params: { path: { shoot: shoot.id } },
          body: { frames: [...ids[which]], form, parts: [...parts] },
        }),
      ),
    onSuccess: ({ text }) =>
      saveText(
        fileName(shoot.name, `.${form}`),
        text,
        form === 'csv' ? 'text/csv' : 'application/json',
      ),
  });
  const choices: [Which, string][] = [
    ['picks', t`the picks`],
    ['shown', t`what the filter shows`],
    ['selected', t`the selection`],
    ['all', t`all frames`],
  ];
  const select = 'h-8 rounded border border-line bg-paper px-2';
  return (
    <div className="flex flex-col gap-2">
      <p className="text-quiet">
        <Trans>
          A list of frames for a spreadsheet, an assistant or a client. When it comes back, it can
          be taken over.
        </Trans>
      </p>
      <div className="flex flex-wrap items-center gap-x-4 gap-y-2">
        <select
          aria-label={t`Which frames`}
          className={select}
          value={which}
          onChange={(event) => setWhich(event.target.value as Which)}
        >
          {choices.map(([value, words]) => (
            <option key={value} value={value}>
              {words}: {counted(ids[value].length, 'frame')}
            </option>
          ))}
        </select>
        <select
          aria-label={t`As`}
          className={select}
          value={form}
          onChange={(event) => setForm(event.target.value as 'csv' | 'json')}
        >
          <option value="csv">{t`CSV, for spreadsheets`}</option>
          <option value="json">{t`JSON, for programs`}</option>
        </select>
        {PARTS.map(([part, words]) => (
          <Tick
            key={part}
            on={parts.includes(part)}
            onChange={(on) =>
              setParts(on ? [...parts, part] : parts.filter((other) => other !== part))
            }
          >
            {words}
          </Tick>
        ))}
      </div>
      <div className="flex items-center gap-3">
        <Button disabled={make.isPending || ids[which].length === 0} onClick={() => make.mutate()}>
          <Trans>Save the list</Trans>
        </Button>
        {make.error && <span role="alert">{inWords(make.error)}</span>}
      </div>
    </div>
  );
}

interface Chosen {
  name: string;
  content: string;
}

function ListIn({ shoot }: { shoot: Shoot }) {
  const field = useRef<HTMLInputElement>(null);
  const [chosen, setChosen] = useState<Chosen | null>(null);
  const [problem, setProblem] = useState('');
  const path = { params: { path: { shoot: shoot.id } } };
  const read = useMutation({
    mutationFn: (body: Chosen) =>
      ask(api.POST('/api/shoots/{shoot}/lists/read', { ...path, body: { ...body, window: '' } })),
    onError: (error) => setProblem(inWords(error)),
  });
  const apply = useMutation({
    mutationFn: (body: Chosen) =>
      ask(
        api.POST('/api/shoots/{shoot}/lists/apply', { ...path, body: { ...body, window: WINDOW } }),
      ),
    onSuccess: (change) => {
      const { receive, say } = useShoot.getState();
      receive(change);
      void refind();
      say(change.sentence ?? t`The list changed nothing`);
      setChosen(null);
      read.reset();
    },
    onError: (error) => setProblem(inWords(error)),
  });
  const take = (file: File) => {
    setProblem('');
    if (file.size > MOST_BYTES) {
      setProblem(t`This file is too large for a list.`);
      return;
    }
    const reader = new FileReader();
    reader.onerror = () => setProblem(t`This file can’t be read.`);
    reader.onload = () => {
      const url = typeof reader.result === 'string' ? reader.result : '';
      const next = { name: file.name, content: url.split(',')[1] ?? '' };
      setChosen(next);
      read.mutate(next);
    };
    reader.readAsDataURL(file);
  };
  return (
    <div className="flex flex-col gap-2 border-t border-line pt-3">
      <div className="flex items-center gap-3">
        <input
          ref={field}
          type="file"
          accept=".csv,.json,.txt"
          aria-label={t`A list that came back`}
          className="hidden"
          onChange={(event) => {
            const file = event.target.files?.[0];
            event.target.value = '';
            if (file) take(file);
          }}
        />
        <Button onClick={() => field.current?.click()}>
          <Trans>Read a list that came back</Trans>
        </Button>
        {read.isPending && (
          <span>
            <Trans>Reading …</Trans>
          </span>
        )}
      </div>
      {problem && (
        <p role="alert" className="font-semibold text-wrong">
          {problem}
        </p>
      )}
      {chosen && read.data && (
        <Came
          came={read.data}
          name={chosen.name}
          busy={apply.isPending}
          onApply={() => apply.mutate(chosen)}
          onLeave={() => {
            setChosen(null);
            read.reset();
          }}
        />
      )}
    </div>
  );
}

function Came({
  came,
  name,
  busy,
  onApply,
  onLeave,
}: {
  came: ListCame;
  name: string;
  busy: boolean;
  onApply: () => void;
  onLeave: () => void;
}) {
  const labels = useLabels();
  const byId = useShoot((state) => state.byId);
  const nameOf = (letter: string) => labelName(labels, letter);
  return (
    <section
      aria-label={t`What the list would do`}
      className="rounded border border-line bg-paper p-3"
    >
      <p>
        <Trans>
          <strong>{name}</strong>: {counted(came.rows, 'row')}.{' '}
          <strong>{counted(came.changes, 'frame')}</strong> would change, {came.same} say so already
        </Trans>
        {came.problems.length > 0 && t`, ${counted(came.problems.length, 'row')} left out`}.
        {came.unknown.length > 0 && t` Columns passed over: ${came.unknown.join(', ')}.`}
      </p>
      {came.problems.length > 0 && (
        <ul className="mt-2 max-h-40 overflow-auto text-[13px]">
          {came.problems.map((problem) => (
            <li key={problem.row}>
              <Trans>
                Row {problem.row}: {problem.why}
              </Trans>
            </li>
          ))}
        </ul>
      )}
      <ul className="mt-2 max-h-72 overflow-auto">
        {came.frames.map((frame) => (
          <li key={frame.frame} className="flex gap-3 border-t border-line py-1.5">
            <Thumbnail frame={byId.get(frame.frame)} />
            <div className="min-w-0">
              <strong>{byId.get(frame.frame)?.name}</strong>
              <ul className="text-[13px]">
                {differing(frame.here, frame.after).map((part) => (
                  <li key={part} className="break-words">
                    <span className="text-quiet">{PART_WORDS[part]}</span>{' '}
                    <s>{partInWords(frame.here, part, nameOf)}</s> →{' '}
                    {partInWords(frame.after, part, nameOf)}
                  </li>
                ))}
              </ul>
            </div>
          </li>
        ))}
      </ul>
      <div className="mt-3 flex gap-3">
        <Button main disabled={busy || came.changes === 0} onClick={onApply}>
          <Trans>Take over {counted(came.changes, 'frame')}</Trans>
        </Button>
        <Button onClick={onLeave}>
          <Trans>Leave it</Trans>
        </Button>
      </div>
    </section>
  );
}
