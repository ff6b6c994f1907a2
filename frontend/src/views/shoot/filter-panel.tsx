import type { Decision, Filter, Label } from '../../api/client';
import { LabelSign, PickSign, RejectSign } from '../../parts/marks';
import { isEmpty, NO_FILTER, useShoot } from '../../state/shoot';

const DECISIONS: readonly { value: Decision; word: string }[] = [
  { value: 'pick', word: 'picks' },
  { value: 'undecided', word: 'undecided' },
  { value: 'reject', word: 'rejects' },
];
const RULES = { at_least: 'at least', exactly: 'exactly', at_most: 'at most' } as const;

/** The filter's choices, each with the number of frames it would leave. */
export function FilterPanel({
  labels,
  onChange,
}: {
  labels: readonly Label[];
  onChange: (filter: Filter) => void;
}) {
  const filter = useShoot((state) => state.filter);
  const found = useShoot((state) => state.found);
  const flip = <T,>(list: readonly T[], value: T): T[] =>
    list.includes(value) ? list.filter((one) => one !== value) : [...list, value];

  return (
    <section
      aria-label="Filter"
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
          aria-label="Stars rule"
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
        {labels.map((label) => (
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
          no label
        </Choice>
      </div>
      <button
        type="button"
        className="ml-auto rounded px-2 py-1 underline disabled:no-underline"
        disabled={isEmpty(filter)}
        onClick={() => onChange(NO_FILTER)}
      >
        show all
      </button>
    </section>
  );
}

function Choice({
  on,
  count,
  onClick,
  children,
}: {
  on: boolean;
  count: number;
  onClick: () => void;
  children: React.ReactNode;
}) {
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
