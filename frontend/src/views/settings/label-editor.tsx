import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { ArrowDown, ArrowUp, X } from 'lucide-react';
import { useState } from 'react';

import { api, ask, inWords, type Label, type LabelChoices } from '../../api/client';
import { LABEL_KEYS } from '../../commands/registry';
import { Button } from '../../parts/button';
import { Panel } from '../../parts/dialog';
import { KeyCap } from '../../parts/key-cap';
import { LabelSign } from '../../parts/marks';
import { SmallButton } from '../../parts/small-button';
import { TableHead } from '../../parts/table-head';
import { useShoot } from '../../state/shoot';
import { LabelSets } from './label-sets';

const MOST = 9;

/** The label set: what each label looks like, means, and is written to files as. */
export function LabelEditor({
  open,
  onClose,
  labels,
}: {
  open: boolean;
  onClose: () => void;
  labels: readonly Label[];
}) {
  const { data: choices } = useQuery({
    queryKey: ['label-choices'],
    queryFn: () => ask(api.GET('/api/labels/choices')),
    staleTime: Infinity,
    enabled: open,
  });
  return (
    <Panel open={open} onClose={onClose} title={t`Labels`} wide>
      {/* A new one each time it is opened: what was typed and not kept is gone. */}
      {choices && <Editor labels={labels} choices={choices} onClose={onClose} />}
    </Panel>
  );
}

function Editor({
  labels,
  choices,
  onClose,
}: {
  labels: readonly Label[];
  choices: LabelChoices;
  onClose: () => void;
}) {
  const colours = Object.entries(choices.colours);
  const client = useQueryClient();
  const [draft, setDraft] = useState<Label[]>([...labels]);
  const [problem, setProblem] = useState('');
  const failed = (error: unknown) => setProblem(inWords(error));
  const keep = useMutation({
    mutationFn: () => ask(api.PUT('/api/labels', { body: draft })),
    onSuccess: (kept) => {
      client.setQueryData(['labels'], kept);
      useShoot.getState().say(t`Labels changed`);
      onClose();
    },
    onError: failed,
  });
  const changed = JSON.stringify(draft) !== JSON.stringify(labels);
  const unused = labels.filter((label) => !draft.some((other) => other.letter === label.letter));

  const change = (n: number, part: Partial<Label>) => {
    setProblem('');
    setDraft(draft.map((label, at) => (at === n ? { ...label, ...part } : label)));
  };
  const move = (n: number, by: 1 | -1) => {
    const next = [...draft];
    const [label] = next.splice(n, 1);
    if (label) next.splice(n + by, 0, label);
    setDraft(next);
  };
  const add = () => {
    const free = <T,>(all: readonly T[], used: readonly T[]) =>
      all.find((choice) => !used.includes(choice)) ?? all[0]!;
    const letter = free(
      'ABCDEFGHIJKLMNOPQRSTUVWXYZ'.split(''),
      draft.map((label) => label.letter),
    );
    setDraft([
      ...draft,
      {
        letter,
        name: t`Label ${letter}`,
        meaning: '',
        shape: free(
          choices.shapes,
          draft.map((label) => label.shape),
        ),
        colour: free(
          colours.map(([colour]) => colour),
          draft.map((label) => label.colour),
        ),
        written_as: `Label ${letter}`,
      },
    ]);
  };

  return (
    <>
      <p className="mb-3 text-quiet">
        <Trans>
          Up to nine, each told by its shape, letter and colour. Their meanings are shown wherever
          they are used.
        </Trans>
      </p>
      <table className="w-full border-separate border-spacing-x-1.5 border-spacing-y-1 text-left">
        <TableHead
          names={[
            t`Key`,
            t`Sign`,
            t`Letter`,
            t`Name`,
            t`Means`,
            t`Shape`,
            t`Colour`,
            t`Written to files as`,
            '',
          ]}
          wide={4}
        />
        <tbody>
          {draft.map((label, n) => (
            <tr key={n}>
              <td>
                <KeyCap chord={LABEL_KEYS[n]!} />
              </td>
              <td>
                <LabelSign label={label} size={26} />
              </td>
              <td>
                <Text
                  name={t`Letter`}
                  at={n}
                  value={label.letter}
                  most={1}
                  className="w-9 text-center"
                  onChange={(letter) => change(n, { letter: letter.toUpperCase() })}
                />
              </td>
              <td>
                <Text
                  name={t`Name`}
                  at={n}
                  value={label.name}
                  most={40}
                  className="w-28"
                  onChange={(value) => change(n, { name: value })}
                />
              </td>
              <td>
                <Text
                  name={t`Means`}
                  at={n}
                  value={label.meaning}
                  most={200}
                  className="w-full"
                  onChange={(meaning) => change(n, { meaning })}
                />
              </td>
              <td>
                <Pick
                  name={t`Shape`}
                  at={n}
                  value={label.shape}
                  choices={choices.shapes.map((shape) => [shape, shape])}
                  onChange={(shape) => change(n, { shape })}
                />
              </td>
              <td>
                <Pick
                  name={t`Colour`}
                  at={n}
                  value={label.colour}
                  choices={withOwn(colours, label.colour)}
                  onChange={(colour) => change(n, { colour })}
                />
              </td>
              <td>
                <Text
                  name={t`Written as`}
                  at={n}
                  value={label.written_as}
                  most={100}
                  className="w-28"
                  onChange={(written) => change(n, { written_as: written })}
                />
              </td>
              <td className="whitespace-nowrap">
                <SmallButton
                  words={t`Move ${label.name} up`}
                  off={n === 0}
                  onClick={() => move(n, -1)}
                >
                  <ArrowUp size={16} />
                </SmallButton>
                <SmallButton
                  words={t`Move ${label.name} down`}
                  off={n === draft.length - 1}
                  onClick={() => move(n, 1)}
                >
                  <ArrowDown size={16} />
                </SmallButton>
                <SmallButton
                  words={t`Remove ${label.name}`}
                  off={false}
                  onClick={() => setDraft(draft.filter((_, at) => at !== n))}
                >
                  <X size={16} />
                </SmallButton>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {unused.length > 0 && (
        <p className="mt-1 text-quiet">
          <Trans>
            Frames that have {unused.map((label) => label.name).join(', ')} keep the letter, without
            a name.
          </Trans>
        </p>
      )}
      {problem && (
        <p role="alert" className="mt-2 font-bold text-wrong">
          {problem}
        </p>
      )}
      <div className="mt-3 flex gap-2">
        <Button disabled={draft.length >= MOST} onClick={add}>
          <Trans>Add a label</Trans>
        </Button>
        <Button main disabled={!changed || keep.isPending} onClick={() => keep.mutate()}>
          <Trans>Use these labels</Trans>
        </Button>
      </div>

      <LabelSets
        labels={draft}
        onTake={(taken) => {
          setProblem('');
          setDraft(taken);
        }}
        onProblem={setProblem}
      />
    </>
  );
}

type Colours = readonly (readonly [string, string])[];

/** The palette, and a colour that came from elsewhere. */
function withOwn(colours: Colours, colour: string): Colours {
  return colours.some(([known]) => known === colour) ? colours : [...colours, [colour, t`its own`]];
}

function Text({
  name,
  at,
  value,
  most,
  className,
  onChange,
}: {
  name: string;
  at: number;
  value: string;
  most: number;
  className: string;
  onChange: (value: string) => void;
}) {
  return (
    <input
      aria-label={t`${name} of label ${at + 1}`}
      value={value}
      maxLength={most}
      onChange={(event) => onChange(event.target.value)}
      className={`h-8 rounded border border-line bg-paper px-1.5 ${className}`}
    />
  );
}

function Pick<T extends string>({
  name,
  at,
  value,
  choices,
  onChange,
}: {
  name: string;
  at: number;
  value: T;
  choices: readonly (readonly [T, string])[];
  onChange: (value: T) => void;
}) {
  return (
    <select
      aria-label={t`${name} of label ${at + 1}`}
      value={value}
      onChange={(event) => onChange(event.target.value as T)}
      className="h-8 rounded border border-line bg-paper px-1"
    >
      {choices.map(([choice, word]) => (
        <option key={choice} value={choice}>
          {word}
        </option>
      ))}
    </select>
  );
}
