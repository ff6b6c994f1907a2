import { useQuery } from '@tanstack/react-query';
import { useEffect, useState } from 'react';

import { api, ask, type Filter } from '../../api/client';

const EXAMPLES = 'pick iso 800..3200 not flash camera quillon time 19:00..20:30 "name"';

/** Conditions that are typed; what they mean, or what is wrong with them and where, is said below. */
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
      <input
        // A new one for each time that its key is pressed, so that it takes the focus.
        key={String(focused)}
        autoFocus={focused}
        aria-label="Written filter"
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
        className={`figures h-8 rounded border bg-paper px-2 ${problem ? 'border-reject' : 'border-line'}`}
      />
      <p id="written-says" role="status" className="min-h-5 truncate text-[13px] text-quiet">
        {problem ? (
          <>
            <span className="font-bold text-reject">{problem}</span>{' '}
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
