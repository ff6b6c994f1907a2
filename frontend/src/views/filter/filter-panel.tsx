import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { X } from 'lucide-react';
import { useState } from 'react';

import { api, ask, inWords, type Decision, type Filter, type Label } from '../../api/client';
import { labelOf, LabelSign, PickSign, RejectSign } from '../../parts/marks';
import { isEmpty, NO_FILTER, useShoot } from '../../state/shoot';
import { FactsFilter } from './facts-filter';
import { WrittenFilter } from './written-filter';

const DECISIONS: readonly { value: Decision; word: string }[] = [
  { value: 'pick', word: t`picks` },
  { value: 'undecided', word: t`undecided` },
  { value: 'reject', word: t`rejects` },
];
const RULES = { at_least: t`at least`, exactly: t`exactly`, at_most: t`at most` } as const;

/** The filter's choices, each with the number of frames it would leave. */
export function FilterPanel({
  labels,
  typing,
  onChange,
}: {
  labels: readonly Label[];
  /** Whether it was opened to type into it. */
  typing: boolean;
  onChange: (filter: Filter) => void;
}) {
  const filter = useShoot((state) => state.filter);
  const found = useShoot((state) => state.found);
  // Also those that frames still have and the set does not.
  const gone = Object.keys(found?.labels ?? {}).filter(
    (letter) =>
      letter && found!.labels[letter]! > 0 && !labels.some((label) => label.letter === letter),
  );
  const listed = [...labels, ...gone.map((letter) => labelOf(labels, letter)!)];
  const flip = <T,>(list: readonly T[], value: T): T[] =>
    list.includes(value) ? list.filter((entry) => entry !== value) : [...list, value];

  return (
    <section
      aria-label={t`Filter`}
      className="flex flex-wrap items-center gap-x-6 gap-y-2 border-b border-line bg-chrome px-4 py-2"
    >
      <div className="flex items-center gap-1">
        {DECISIONS.map(({ value, word }) => (
          <Choice
            key={value}
            on={filter.decisions.includes(value)}
            count={found?.decisions[value] ?? 0}
            onClick={() => onChange({ ...filter, decisions: flip(filter.decisions, value) })}
          >
            {value === 'pick' && <PickSign size={16} />}
            {value === 'reject' && <RejectSign size={16} />}
            {word}
          </Choice>
        ))}
      </div>
      <div className="flex items-center gap-1">
        <select
          aria-label={t`Stars rule`}
          className="h-8 rounded border border-line bg-paper px-1"
          value={filter.stars_rule}
          onChange={(event) =>
            onChange({ ...filter, stars_rule: event.target.value as Filter['stars_rule'] })
          }
        >
          {Object.entries(RULES).map(([value, word]) => (
            <option key={value} value={value}>
              {word}
            </option>
          ))}
        </select>
        {[0, 1, 2, 3, 4, 5].map((stars) => (
          <Choice
            key={stars}
            on={filter.stars === stars}
            count={found?.stars[stars] ?? 0}
            onClick={() => onChange({ ...filter, stars: filter.stars === stars ? null : stars })}
          >
            <span className="sr-only">{RULES[filter.stars_rule]}</span>
            {stars}★
          </Choice>
        ))}
      </div>
      <div className="flex flex-wrap items-center gap-1">
        {listed.map((label) => (
          <Choice
            key={label.letter}
            on={filter.labels.includes(label.letter)}
            count={found?.labels[label.letter] ?? 0}
            onClick={() => onChange({ ...filter, labels: flip(filter.labels, label.letter) })}
          >
            <LabelSign label={label} size={16} />
            {label.name}
          </Choice>
        ))}
        <Choice
          on={filter.labels.includes('')}
          count={found?.labels[''] ?? 0}
          onClick={() => onChange({ ...filter, labels: flip(filter.labels, '') })}
        >
          <Trans>no label</Trans>
        </Choice>
      </div>
      <FactsFilter filter={filter} onChange={onChange} />
      <div className="flex basis-full items-start gap-4">
        <WrittenFilter filter={filter} focused={typing} onChange={onChange} />
        <SavedFilters filter={filter} onChange={onChange} />
        <button
          type="button"
          className="ml-auto rounded px-2 py-1 underline disabled:no-underline"
          disabled={isEmpty(filter)}
          onClick={() => onChange(NO_FILTER)}
        >
          <Trans>show all</Trans>
        </button>
      </div>
    </section>
  );
}

/** Filters under a name, for every shoot. */
function SavedFilters({
  filter,
  onChange,
}: {
  filter: Filter;
  onChange: (filter: Filter) => void;
}) {
  const client = useQueryClient();
  const [name, setName] = useState<string | null>(null);
  const { data: saved } = useQuery({
    queryKey: ['filters'],
    queryFn: () => ask(api.GET('/api/filters')),
  });
  const take = (work: Promise<typeof saved>) =>
    work.then(
      (filters) => client.setQueryData(['filters'], filters),
      (error: unknown) => useShoot.getState().say(inWords(error), true),
    );
  const save = () => {
    if (name?.trim())
      void take(ask(api.PUT('/api/filters', { body: { name: name.trim(), filter } })));
    setName(null);
  };
  return (
    <div className="flex flex-wrap items-center gap-1">
      {saved?.map((named) => (
        <span
          key={named.name}
          className="flex h-8 items-center rounded border border-line bg-paper"
        >
          <button type="button" className="px-2" onClick={() => onChange(named.filter as Filter)}>
            {named.name}
          </button>
          <button
            type="button"
            aria-label={t`Forget the filter ${named.name}`}
            className="pr-1.5 text-quiet hover:text-ink"
            onClick={() =>
              void take(
                ask(api.DELETE('/api/filters', { params: { query: { name: named.name } } })),
              )
            }
          >
            <X size={14} />
          </button>
        </span>
      ))}
      {name === null ? (
        <button
          type="button"
          className="rounded px-2 py-1 underline disabled:no-underline"
          disabled={isEmpty(filter)}
          onClick={() => setName('')}
        >
          <Trans>save this filter</Trans>
        </button>
      ) : (
        <input
          autoFocus
          aria-label={t`Name of the filter`}
          placeholder={t`name, then Enter`}
          maxLength={60}
          value={name}
          onChange={(event) => setName(event.target.value)}
          onKeyDown={(event) => {
            if (event.key === 'Enter') save();
            if (event.key === 'Escape') {
              event.stopPropagation();
              setName(null);
            }
          }}
          onBlur={() => setName(null)}
          className="h-8 w-40 rounded border border-line bg-paper px-2"
        />
      )}
    </div>
  );
}

function Choice({
  on,
  count,
  onClick,
  children,
}: React.PropsWithChildren<{ on: boolean; count: number; onClick: () => void }>) {
  return (
    <button
      type="button"
      aria-pressed={on}
      onClick={onClick}
      className={`figures flex h-8 items-center gap-1.5 rounded border px-2 ${on ? 'border-ink bg-ink text-paper' : 'border-line bg-paper'}`}
    >
      {children}
      <span className={on ? 'opacity-80' : 'text-quiet'}>{count}</span>
    </button>
  );
}
