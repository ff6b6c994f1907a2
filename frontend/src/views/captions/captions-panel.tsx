import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import { useQuery } from '@tanstack/react-query';
import { X } from 'lucide-react';
import { useId, useRef, useState } from 'react';

import { api, ask, type TextField, type TextsFound } from '../../api/client';
import { counted } from '../../texts/numbers';
import { useCaptions } from '../../state/captions';
import { useGuest } from '../../state/sharing';
import { useShoot } from '../../state/shoot';
import { Keywords } from './keywords';
import { stepWith } from './step-with';
import { Templates } from './templates';
import { useTargets, useTexts, write } from './use-texts';

/** What is written about the active frame or the selection, beside the photographs. */
export function CaptionsPanel() {
  const open = useCaptions((state) => state.open);
  const frames = useTargets();
  if (!open) return null;
  return <Open frames={frames} />;
}

function Open({ frames }: { frames: readonly number[] }) {
  const name = useShoot((state) => state.byId.get(frames[0] ?? -1)?.name);
  const { data } = useTexts(frames);
  const { data: fields } = useQuery({
    queryKey: ['text-fields'],
    queryFn: () => ask(api.GET('/api/texts/fields')),
    staleTime: Infinity,
  });
  const [problem, setProblem] = useState('');
  const guest = useGuest();
  const where = frames.length > 1 ? counted(frames.length, 'frame') : (name ?? t`no frame`);
  return (
    <aside
      aria-label={t`Captions and rights`}
      className="z-30 flex w-80 max-w-full shrink-0 flex-col gap-3 overflow-y-auto border-l border-line bg-chrome p-4 max-[800px]:absolute max-[800px]:inset-y-0 max-[800px]:right-0"
    >
      <div className="flex items-start">
        <h2 className="min-w-0 flex-1 font-bold">
          <Trans>Captions and rights</Trans>
          <span className="block truncate text-[13px] font-normal text-quiet" data-testid="about">
            <Trans>of {where}</Trans>
          </span>
        </h2>
        <button
          type="button"
          aria-label={t`Close captions`}
          onClick={() => useCaptions.setState({ open: false })}
        >
          <X size={18} />
        </button>
      </div>
      {problem && (
        <p role="alert" className="font-semibold text-wrong">
          {problem}
        </p>
      )}
      {!guest && <Templates frames={frames} found={data} onProblem={setProblem} />}
      <div className="grid grid-cols-2 gap-x-2 gap-y-2.5">
        {data &&
          fields?.map((field) =>
            field.name === 'keywords' ? (
              <Keywords
                key="keywords"
                all={data.texts.keywords}
                some={data.some}
                count={frames.length}
                onChange={(edit) => write(frames, edit, setProblem)}
              />
            ) : (
              <Field
                // Another frame, or another text: what is typed there belongs to it.
                key={`${field.name} ${frames.join()} ${valueOf(data, field)}`}
                field={field}
                found={data}
                count={frames.length}
                onChange={(value) => write(frames, { put: { [field.name]: value } }, setProblem)}
              />
            ),
          )}
      </div>
      <p className="text-[13px] text-quiet">
        <Trans>
          Kept when you leave a field, or with Enter. Page Down and Page Up go to the next and the
          previous frame.
        </Trans>
      </p>
    </aside>
  );
}

const BETWEEN = '; ';
/** What is the same on many frames, and so is completed from what was used before. */
const COMPLETED: ReadonlySet<TextField['name']> = new Set([
  'creators',
  'rights',
  'location',
  'city',
  'state',
  'country',
]);
const HALF: ReadonlySet<TextField['name']> = new Set(['location', 'city', 'state', 'country']);

function valueOf(found: TextsFound, field: TextField): string {
  const value = found.texts[field.name];
  return typeof value === 'string' ? value : value.join(BETWEEN);
}

function Field({
  field,
  found,
  count,
  onChange,
}: {
  field: TextField;
  found: TextsFound;
  count: number;
  onChange: (value: string | string[]) => void;
}) {
  const list = useId();
  const guest = useGuest();
  const { data: used } = useQuery({
    queryKey: ['texts-used', field.name],
    queryFn: () => ask(api.GET('/api/texts/used', { params: { query: { field: field.name } } })),
    // What the owner wrote in other shoots is no guest's.
    enabled: COMPLETED.has(field.name) && !guest,
  });
  const before = valueOf(found, field);
  const several = found.several.includes(field.name);
  const [typed, setTyped] = useState(before);
  // What was sent with Enter isn't sent again when the field is left.
  const kept = useRef(before);
  const keep = () => {
    const text = typed.trim();
    if (text === kept.current || (several && !text)) return;
    kept.current = text;
    onChange(
      field.listed
        ? text
            .split(';')
            .map((word) => word.trim())
            .filter(Boolean)
        : text,
    );
  };
  const shared = {
    'aria-label': field.words,
    value: typed,
    placeholder: several
      ? HALF.has(field.name)
        ? t`they differ`
        : t`they differ; what you type is for all ${count}`
      : '',
    className: 'w-full rounded border border-line bg-paper px-2 py-1',
    onChange: (event: { target: { value: string } }) => setTyped(event.target.value),
    onBlur: keep,
    onKeyDown: (event: React.KeyboardEvent<HTMLInputElement | HTMLTextAreaElement>) => {
      const { key } = event;
      if (key === 'Escape') {
        setTyped(before);
        // Not the page's way back: only this field is left, as it was.
        event.stopPropagation();
        const { currentTarget } = event;
        requestAnimationFrame(() => currentTarget.blur());
      } else if (key === 'Enter' && (field.name !== 'caption' || event.ctrlKey)) {
        event.preventDefault();
        keep();
      } else if (key === 'PageDown' || key === 'PageUp') {
        event.preventDefault();
        keep();
        stepWith(field.words, key === 'PageDown' ? 1 : -1);
      }
    },
  };
  return (
    <label
      className={`flex min-w-0 flex-col gap-0.5 ${HALF.has(field.name) ? '' : 'col-span-2'}`}
      title={t`IPTC Core: ${field.iptc}`}
    >
      <span className="truncate text-[13px] text-quiet">
        {field.words}
        {field.listed && t`, several with “;”`}
      </span>
      {field.name === 'caption' ? (
        <textarea rows={4} {...shared} />
      ) : (
        <>
          <input type="text" list={list} {...shared} />
          <datalist id={list}>
            {used?.slice(0, 50).map((entry) => (
              <option key={entry.value} value={entry.value} />
            ))}
          </datalist>
        </>
      )}
    </label>
  );
}
