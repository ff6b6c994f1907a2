import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import { useQuery } from '@tanstack/react-query';
import { useEffect, useState } from 'react';

import { api, ask, type Filter } from '../../api/client';
import { Help } from '../../parts/help';
import { useFilterFacts } from './use-filter-facts';

const TAUGHT: readonly (readonly [string, string])[] = [
  ['pick stars>=2', t`picks with two stars or more: all conditions must hold`],
  ['(label a or label w)', t`either of two labels; brackets group`],
  ['not flash', t`the opposite of what follows`],
  ['iso 800..3200', t`from … to; also < <= > >=`],
  ['time 19:00..20:30', t`by the clock; may run over midnight`],
  ['shutter<1/60', t`exposed for less than this`],
  ['hint soft', t`named by a kind of hint; “hint none”: by none`],
  ['caption none', t`nothing is written there`],
  ['quay', t`any word: in the name, or in what is written about a frame`],
];
const EXAMPLES = 'pick iso 800..3200 not flash camera quillon time 19:00..20:30 "name"';

/**
 * Conditions that are typed; what they mean, or what is wrong with them and where, is said below.
 */
export function WrittenFilter({
  filter,
  focused,
  onChange,
}: {
  filter: Filter;
  focused: boolean;
  onChange: (filter: Filter) => void;
}) {
  const [text, setText] = useState(filter.written);
  const [before, setBefore] = useState(filter.written);
  // Another filter was chosen, by a click or from the saved ones.
  if (before !== filter.written) {
    setBefore(filter.written);
    setText(filter.written);
  }
  const { data: read } = useQuery({
    queryKey: ['written', text],
    queryFn: () => ask(api.POST('/api/filters/written', { body: { text } })),
    placeholderData: (last) => last,
    staleTime: Infinity,
    enabled: text.trim() !== '',
  });
  const good = !text.trim() || (read?.problem === '' && read.words !== '');
  useEffect(() => {
    if (!good || text.trim() === filter.written.trim()) return;
    const timer = setTimeout(() => onChange({ ...filter, written: text.trim() }), 250);
    return () => clearTimeout(timer);
  }, [good, text, filter, onChange]);
  const problem = text.trim() ? read?.problem : '';

  return (
    <div className="flex min-w-80 flex-1 flex-col">
      <span className="flex items-center gap-2">
        <input
          // A new one for each time that its key is pressed, so that it takes the focus.
          key={String(focused)}
          autoFocus={focused}
          id="written-filter"
          aria-label={t`Written filter`}
          aria-invalid={!!problem}
          aria-describedby="written-says"
          placeholder={EXAMPLES}
          spellCheck={false}
          autoComplete="off"
          maxLength={500}
          value={text}
          onChange={(event) => setText(event.target.value)}
          onKeyDown={(event) => {
            if (event.key === 'Escape' || event.key === 'Enter') {
              event.preventDefault();
              event.stopPropagation();
              event.currentTarget.blur();
            }
          }}
          className={`figures h-8 min-w-0 flex-1 rounded border bg-paper px-2 ${problem ? 'border-reject' : 'border-line'}`}
        />
        <FilterHelp
          onTake={(example) => setText(text.trim() ? `${text.trim()} ${example}` : example)}
        />
      </span>
      <p id="written-says" role="status" className="min-h-5 truncate text-[13px] text-quiet">
        {problem ? (
          <>
            <span className="font-bold text-wrong">{problem}</span>{' '}
            <Place text={text} at={read!.at} until={read!.until} />
          </>
        ) : text.trim() ? (
          read?.words
        ) : (
          ''
        )}
      </p>
    </div>
  );
}

/** The typed text with the wrong part marked. */
function Place({ text, at, until }: { text: string; at: number; until: number }) {
  return (
    <code className="font-sans">
      … {text.slice(Math.max(0, at - 12), at)}
      <mark className="border-b-2 border-reject bg-transparent font-bold text-ink">
        {text.slice(at, until) || '▯'}
      </mark>
      {text.slice(until, until + 12)}
    </code>
  );
}

/** The written form in short, with examples to take over. */
function FilterHelp({ onTake }: { onTake: (example: string) => void }) {
  const known = useFilterFacts();
  const facts = known.facts.join(' ');
  const flags = known.flags.join(' ');
  return (
    <Help about={t`The written filter`}>
      <p>
        <Trans>
          Conditions one after the other must all hold. “or” stands between alternatives, “not”
          turns the next one round, brackets group. A click adds an example.
        </Trans>
      </p>
      <dl className="grid grid-cols-[auto_1fr] items-baseline gap-x-3 gap-y-1">
        {TAUGHT.map(([example, words]) => (
          <div key={example} className="contents">
            <dt>
              <button
                type="button"
                className="rounded border border-line px-1 text-left font-semibold"
                onClick={() => onTake(example)}
              >
                {example}
              </button>
            </dt>
            <dd className="text-quiet">{words}</dd>
          </div>
        ))}
      </dl>
      <p>
        <Trans>
          Facts: <strong>{facts}</strong>
        </Trans>
      </p>
      <p>
        <Trans>
          Words of their own: <strong>{flags}</strong>
        </Trans>
      </p>
    </Help>
  );
}
