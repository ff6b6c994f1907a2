import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { X } from 'lucide-react';
import { useEffect, useMemo, useState } from 'react';

import { api, ask, inWords, type Settings } from '../../api/client';
import {
  fromFile,
  given,
  reset,
  swapped,
  takenBy,
  toFile,
  withKeys,
  without,
  type Keys,
} from '../../commands/key-set';
import { chordOf, isModifier } from '../../commands/keys';
import type { Command } from '../../commands/command';
import { Button } from '../../parts/button';
import { Panel } from '../../parts/dialog';
import { fileName, saveText } from '../../parts/files';
import { KeyCap } from '../../parts/key-cap';
import { TakeFile } from '../../parts/take-file';

type KeySet = Settings['keys'];

/** Change the keys of commands; `commands` have their standard ones. */
export function KeyEditor({
  open,
  onClose,
  commands,
  set,
  onChange,
}: {
  open: boolean;
  onClose: () => void;
  commands: readonly Command[];
  set: KeySet;
  onChange: (set: KeySet) => void;
}) {
  return (
    <Panel open={open} onClose={onClose} title={t`Change keys`} wide>
      <Editor commands={commands} set={set} onChange={onChange} />
    </Panel>
  );
}

/** Waiting for a key: which command gets it, or none where commands are looked for by it. */
type Listening = { id: string } | 'search' | null;

function Editor({
  commands,
  set,
  onChange,
}: {
  commands: readonly Command[];
  set: KeySet;
  onChange: (set: KeySet) => void;
}) {
  const [wanted, setWanted] = useState('');
  const [byKey, setByKey] = useState('');
  const [listening, setListening] = useState<Listening>(null);
  const [taken, setTaken] = useState<{ id: string; chord: string } | null>(null);
  const [notice, setNotice] = useState('');
  const keys: Keys = set.keys;
  const present = useMemo(() => withKeys(commands, keys), [commands, keys]);
  const put = (next: Keys) => onChange({ ...set, keys: next as KeySet['keys'] });
  const titleOf = (id: string) => commands.find((command) => command.id === id)?.title ?? id;

  useEffect(() => {
    if (!listening) return;
    const pressed = (event: KeyboardEvent) => {
      if (isModifier(event)) return;
      event.preventDefault();
      event.stopImmediatePropagation();
      setListening(null);
      const chord = chordOf(event);
      if (listening === 'search') {
        setByKey(chord);
        return;
      }
      if (chord === 'Escape') return;
      const others = takenBy(present, listening.id, chord);
      if (others.length) setTaken({ id: listening.id, chord });
      else put(given(commands, keys, listening.id, chord));
    };
    // Before the dialog, which Escape would close.
    window.addEventListener('keydown', pressed, { capture: true });
    return () => window.removeEventListener('keydown', pressed, { capture: true });
  });

  const shown = present.filter(
    (command) =>
      command.title.toLowerCase().includes(wanted.trim().toLowerCase()) &&
      (!byKey || command.keys.includes(byKey)),
  );
  const changed = Object.keys(keys).length;
  return (
    <>
      <div className="mb-3 flex flex-wrap items-center gap-2">
        <input
          aria-label={t`Search commands`}
          placeholder={t`search commands`}
          value={wanted}
          onChange={(event) => setWanted(event.target.value)}
          className="h-9 w-60 rounded border border-line bg-paper px-2"
        />
        <Button onClick={() => setListening('search')}>
          {listening === 'search' ? t`press a key …` : t`Search by a key`}
        </Button>
        {byKey && (
          <button type="button" className="flex items-center gap-1" onClick={() => setByKey('')}>
            <KeyCap chord={byKey} /> <X size={16} aria-label={t`show all again`} />
          </button>
        )}
        <span className="ml-auto text-quiet">
          {changed ? t`${changed} changed` : t`all as they come`}
        </span>
        <Button disabled={!changed} onClick={() => put({})}>
          <Trans>Reset all</Trans>
        </Button>
      </div>
      {taken && (
        <Taken
          chord={taken.chord}
          title={titleOf(taken.id)}
          others={takenBy(present, taken.id, taken.chord)}
          instead={present.find((command) => command.id === taken.id)?.keys[0]}
          onSwap={(instead) => {
            put(swapped(commands, keys, taken.id, taken.chord, instead));
            setTaken(null);
          }}
          onTake={() => {
            put(given(commands, keys, taken.id, taken.chord));
            setTaken(null);
          }}
          onLeave={() => setTaken(null)}
        />
      )}
      <ul className="max-h-[44vh] overflow-auto rounded border border-line bg-paper">
        {shown.map((command) => (
          <li
            key={command.id}
            data-command={command.id}
            className="flex items-center gap-3 border-b border-line px-3 py-1 last:border-0"
          >
            <span className="min-w-0 flex-1 truncate">{command.title}</span>
            <span className="flex items-center gap-1.5">
              {command.keys.map((chord) => (
                <span key={chord} className="flex items-center">
                  <KeyCap chord={chord} />
                  <button
                    type="button"
                    aria-label={t`Take ${chord} away from ${command.title}`}
                    className="p-0.5 text-quiet hover:text-ink"
                    onClick={() => put(without(commands, keys, command.id, chord))}
                  >
                    <X size={14} />
                  </button>
                </span>
              ))}
              <button
                type="button"
                className="underline"
                onClick={() => {
                  setTaken(null);
                  setListening({ id: command.id });
                }}
              >
                {typeof listening === 'object' && listening?.id === command.id
                  ? t`press a key …`
                  : t`add a key`}
              </button>
            </span>
            <button
              type="button"
              className="w-12 text-right underline disabled:invisible"
              disabled={!keys[command.id]}
              onClick={() => put(reset(commands, keys, command.id))}
            >
              <Trans>reset</Trans>
            </button>
          </li>
        ))}
        {!shown.length && (
          <li className="p-3 text-quiet">
            {byKey ? t`This key does nothing yet.` : t`No command is called that.`}
          </li>
        )}
      </ul>
      <Sets
        commands={commands}
        set={set}
        notice={notice}
        onNotice={setNotice}
        onChange={onChange}
      />
    </>
  );
}

/** A key that does something already: say what, and offer ways on. */
function Taken({
  chord,
  title,
  others,
  instead,
  onSwap,
  onTake,
  onLeave,
}: {
  chord: string;
  title: string;
  others: readonly Command[];
  instead: string | undefined;
  onSwap: (instead: string) => void;
  onTake: () => void;
  onLeave: () => void;
}) {
  return (
    <div
      role="alert"
      className="mb-3 flex flex-wrap items-center gap-2 rounded border border-ink p-3"
    >
      <span className="min-w-60 flex-1">
        <Trans>
          <KeyCap chord={chord} /> now does “{others.map((other) => other.title).join('” and “')}”.
        </Trans>
      </span>
      {instead && (
        <Button onClick={() => onSwap(instead)}>
          <Trans>
            Swap: that gets <KeyCap chord={instead} />
          </Trans>
        </Button>
      )}
      <Button onClick={onTake}>
        <Trans>Take it for “{title}”</Trans>
      </Button>
      <Button onClick={onLeave}>
        <Trans>Leave it</Trans>
      </Button>
    </div>
  );
}

/** Whole key sets: saved under a name, given away as files, taken from files. */
function Sets({
  commands,
  set,
  notice,
  onNotice,
  onChange,
}: {
  commands: readonly Command[];
  set: KeySet;
  notice: string;
  onNotice: (words: string) => void;
  onChange: (set: KeySet) => void;
}) {
  const client = useQueryClient();
  const [name, setName] = useState(set.name);
  const { data: saved } = useQuery({
    queryKey: ['key-sets'],
    queryFn: () => ask(api.GET('/api/key-sets')),
  });
  const takeSets = (sets: typeof saved) => client.setQueryData(['key-sets'], sets);
  const failed = (error: unknown) => onNotice(inWords(error));
  const edited = { name: name.trim() || t`My keys`, keys: set.keys };
  return (
    <>
      <h3 className="mt-4 mb-2 font-bold">
        <Trans>Key sets</Trans>
      </h3>
      <div className="flex flex-wrap items-center gap-2">
        <Button onClick={() => onChange({ name: t`My keys`, keys: {} })}>
          <Trans>Standard</Trans>
        </Button>
        {saved?.map((keySet) => (
          <span key={keySet.name} className="flex items-center rounded border border-line bg-paper">
            <button type="button" className="px-3 py-1.5" onClick={() => onChange(keySet)}>
              {keySet.name}
            </button>
            <button
              type="button"
              aria-label={t`Forget the key set ${keySet.name}`}
              className="p-1 text-quiet hover:text-ink"
              onClick={() => {
                const query = { name: keySet.name };
                ask(api.DELETE('/api/key-sets', { params: { query } })).then(takeSets, failed);
              }}
            >
              <X size={16} />
            </button>
          </span>
        ))}
        <input
          aria-label={t`Name of the key set`}
          maxLength={60}
          value={name}
          onChange={(event) => setName(event.target.value)}
          className="h-9 w-40 rounded border border-line bg-paper px-2"
        />
        <Button
          onClick={() => {
            ask(api.PUT('/api/key-sets', { body: edited })).then(takeSets, failed);
          }}
        >
          <Trans>Save a copy</Trans>
        </Button>
        <Button
          onClick={() =>
            saveText(fileName(edited.name, '.keys.json'), toFile(edited.name, edited.keys))
          }
        >
          <Trans>To a file</Trans>
        </Button>
        <TakeFile
          words={t`From a file`}
          ending=".json"
          onProblem={onNotice}
          onText={(text) => {
            try {
              const read = fromFile(text, commands);
              setName(read.name);
              onChange({ name: read.name, keys: read.keys as KeySet['keys'] });
              onNotice(
                read.left.length ? t`Left out, as they don’t fit: ${read.left.join(', ')}.` : '',
              );
            } catch (error) {
              failed(error);
            }
          }}
        />
      </div>
      {notice && (
        <p role="alert" className="mt-2 font-bold">
          {notice}
        </p>
      )}
    </>
  );
}
