import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import { useQuery } from '@tanstack/react-query';
import { X } from 'lucide-react';
import { useId, useState } from 'react';

import { api, ask } from '../../api/client';
import { useGuest } from '../../state/sharing';
import { useShoot } from '../../state/shoot';
import { offers } from './offers';
import { stepWith } from './step-with';
import type { TextEdit } from './use-texts';

/**
 * Keywords that all have, and those that only some have; typed ones are completed from those used.
 */
export function Keywords({
  all,
  some,
  count,
  onChange,
}: {
  all: readonly string[];
  some: Record<string, number>;
  count: number;
  onChange: (edit: TextEdit) => void;
}) {
  const list = useId();
  const version = useShoot((state) => state.textsVersion);
  const guest = useGuest();
  const { data: used } = useQuery({
    queryKey: ['keywords-used', version],
    queryFn: () => ask(api.GET('/api/texts/used', { params: { query: { field: 'keywords' } } })),
    placeholderData: (before) => before,
    enabled: !guest,
  });
  const [typed, setTyped] = useState('');
  const [open, setOpen] = useState(false);
  const [at, setAt] = useState(-1);
  const offered = open ? offers(typed, used ?? [], all) : [];
  const add = (text: string) => {
    const words = text
      .split(/[;,\n]/)
      .map((word) => word.trim())
      .filter(Boolean);
    if (words.length) onChange({ add: words });
    setTyped('');
    setAt(-1);
  };
  return (
    <div className="col-span-2 flex flex-col gap-1">
      <span className="text-[13px] text-quiet">
        <Trans>Keywords</Trans>
      </span>
      <ul aria-label={t`Keywords of all`} className="flex flex-wrap gap-1">
        {all.map((word) => (
          <Chip key={word} word={word} onRemove={() => onChange({ remove: [word] })} />
        ))}
        {Object.entries(some).map(([word, number]) => (
          <Chip
            key={word}
            word={word}
            onRemove={() => onChange({ remove: [word] })}
            onAll={() => onChange({ add: [word] })}
            number={number}
            title={t`on ${number} of ${count}; click to give it to all`}
          />
        ))}
      </ul>
      <div className="relative">
        <input
          type="text"
          role="combobox"
          aria-label={t`Add keywords`}
          aria-expanded={offered.length > 0}
          aria-controls={list}
          aria-activedescendant={at >= 0 ? `${list}-${at}` : undefined}
          autoComplete="off"
          placeholder={t`add keywords`}
          className="w-full rounded border border-line bg-paper px-2 py-1"
          value={typed}
          onFocus={() => setOpen(true)}
          onBlur={() => {
            setOpen(false);
            add(typed);
          }}
          onChange={(event) => {
            setTyped(event.target.value);
            setOpen(true);
            setAt(-1);
          }}
          onKeyDown={(event) => {
            const chosen = offered[at];
            if (event.key === 'ArrowDown') setAt(Math.min(at + 1, offered.length - 1));
            else if (event.key === 'ArrowUp') setAt(Math.max(at - 1, -1));
            else if (event.key === 'Tab' && !event.shiftKey && typed && offered.length)
              add((chosen ?? offered[0]!).value);
            else if (event.key === 'Enter' || (event.key === ',' && typed.trim()))
              add(chosen?.value ?? typed);
            else if (event.key === 'Backspace' && !typed && all.length)
              onChange({ remove: [all.at(-1)!] });
            else if (event.key === 'PageDown' || event.key === 'PageUp') {
              add(typed);
              stepWith(t`Add keywords`, event.key === 'PageDown' ? 1 : -1);
            } else if (event.key === 'Escape') {
              setTyped('');
              event.stopPropagation();
              const { currentTarget } = event;
              requestAnimationFrame(() => currentTarget.blur());
            } else return;
            event.preventDefault();
          }}
        />
        {offered.length > 0 && (
          <ul
            id={list}
            role="listbox"
            aria-label={t`Keywords used before`}
            className="absolute z-30 mt-1 max-h-56 w-full overflow-auto rounded border border-line bg-paper py-1 shadow-lg"
          >
            {offered.map((offer, n) => (
              <li
                key={offer.value}
                id={`${list}-${n}`}
                role="option"
                aria-selected={n === at}
                className={`figures flex cursor-pointer justify-between gap-2 px-2 py-0.5 ${n === at ? 'bg-ink text-paper' : 'hover:bg-chrome'}`}
                onMouseDown={(event) => {
                  event.preventDefault();
                  add(offer.value);
                }}
              >
                <span className="truncate">{offer.value}</span>
                <span>{offer.frames}</span>
              </li>
            ))}
          </ul>
        )}
      </div>
    </div>
  );
}

/**
 * A keyword that can be taken out; one that only some have says on how many, and can be given to
 * all.
 */
function Chip({
  word,
  onRemove,
  onAll,
  number,
  title,
}: {
  word: string;
  onRemove: () => void;
  onAll?: () => void;
  number?: number;
  title?: string;
}) {
  return (
    <li
      className={`flex items-center rounded border px-1.5 ${onAll ? 'border-dashed border-quiet' : 'border-ink bg-paper'}`}
    >
      {onAll ? (
        <button type="button" title={title} className="break-all" onClick={onAll}>
          {word} <span className="figures text-[13px] text-quiet">{number}</span>
        </button>
      ) : (
        <span className="break-all">{word}</span>
      )}
      <button
        type="button"
        aria-label={t`Take out ${word}`}
        className="ml-1 text-quiet hover:text-ink"
        onClick={onRemove}
      >
        <X size={13} />
      </button>
    </li>
  );
}
