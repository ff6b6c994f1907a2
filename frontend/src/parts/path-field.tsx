import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import { useQuery } from '@tanstack/react-query';
import { useId, useState } from 'react';

import { api, ask } from '../api/client';
import { Button } from './button';
import { FolderChooser } from './folder-chooser';

/**
 * A folder's path: typed, with the server's completions (↓ ↑ to choose, Tab or Enter to take), or
 * chosen among folders.
 */
export function PathField({
  value,
  onChange,
  onEnter,
  label,
  autoFocus = false,
}: {
  value: string;
  onChange: (value: string) => void;
  onEnter: () => void;
  label: string;
  autoFocus?: boolean;
}) {
  const list = useId();
  const [open, setOpen] = useState(false);
  const [at, setAt] = useState(-1);
  const [choosing, setChoosing] = useState(false);
  const { data } = useQuery({
    queryKey: ['folders', value],
    queryFn: () => ask(api.GET('/api/folders', { params: { query: { path: value } } })),
    enabled: open,
    placeholderData: (before) => before,
    staleTime: 2000,
  });
  const folders = open ? (data?.folders ?? []) : [];

  const take = (folder: string) => {
    onChange(`${folder}/`);
    setAt(-1);
  };

  return (
    <div className="relative flex gap-2">
      <input
        type="text"
        role="combobox"
        aria-label={label}
        aria-expanded={folders.length > 0}
        aria-controls={list}
        aria-activedescendant={at >= 0 ? `${list}-${at}` : undefined}
        autoComplete="off"
        spellCheck={false}
        autoFocus={autoFocus}
        placeholder={t`/home/…`}
        className="h-9 min-w-0 flex-1 rounded border border-line bg-paper px-3 text-ink"
        value={value}
        onFocus={() => setOpen(true)}
        onBlur={() => setOpen(false)}
        onChange={(event) => {
          onChange(event.target.value);
          setOpen(true);
          setAt(-1);
        }}
        onKeyDown={(event) => {
          const chosen = folders[at];
          if (event.key === 'ArrowDown') setAt(Math.min(at + 1, folders.length - 1));
          else if (event.key === 'ArrowUp') setAt(Math.max(at - 1, -1));
          else if (event.key === 'Escape' && open) setOpen(false);
          else if (event.key === 'Tab' && !event.shiftKey && (chosen ?? folders[0]) && value)
            take((chosen ?? folders[0])!);
          else if (event.key === 'Enter') {
            if (chosen) take(chosen);
            else {
              setOpen(false);
              onEnter();
            }
          } else return;
          event.preventDefault();
        }}
      />
      <Button aria-label={t`Choose: ${label}`} onClick={() => setChoosing(true)}>
        <Trans>Choose …</Trans>
      </Button>
      {choosing && (
        <FolderChooser
          at={value}
          onClose={() => setChoosing(false)}
          onChoose={(folder) => {
            onChange(folder);
            setChoosing(false);
          }}
        />
      )}
      {folders.length > 0 && (
        <ul
          id={list}
          role="listbox"
          aria-label={t`Folders`}
          className="absolute top-9 z-30 mt-1 max-h-64 w-full overflow-auto rounded border border-line bg-paper py-1 shadow-lg"
        >
          {folders.map((folder, n) => (
            <li
              key={folder}
              id={`${list}-${n}`}
              role="option"
              aria-selected={n === at}
              className={`cursor-pointer truncate px-3 py-1 ${n === at ? 'bg-ink text-paper' : 'hover:bg-chrome'}`}
              onMouseDown={(event) => {
                event.preventDefault();
                take(folder);
              }}
            >
              {folder}
            </li>
          ))}
        </ul>
      )}
    </div>
  );
}
