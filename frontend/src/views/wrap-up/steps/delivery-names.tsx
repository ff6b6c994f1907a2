import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import { useQuery } from '@tanstack/react-query';

import { Help } from '../../../parts/help';
import { api, ask } from '../../../api/client';

/** How files are called, with the fields that a name can have. */
export function DeliveryNames({
  label,
  template,
  folders = true,
  seqFrom,
  seqNext,
  onSeqFrom,
  onChange,
}: {
  label: string;
  template: string;
  folders?: boolean;
  /** where {seq} begins to count, and where the last ones stopped */
  seqFrom: number;
  seqNext: number;
  onSeqFrom: (from: number) => void;
  onChange: (value: string) => void;
}) {
  const { data: fields } = useQuery({
    queryKey: ['name-fields'],
    queryFn: () => ask(api.GET('/api/deliveries/fields')),
    staleTime: Infinity,
  });
  const seq = '{seq:3}';
  return (
    <div className="flex flex-col gap-1">
      <label className="flex items-center gap-3">
        <Trans>Names</Trans>
        <input
          type="text"
          aria-label={label}
          spellCheck={false}
          maxLength={300}
          className="h-8 min-w-0 flex-1 rounded border border-line bg-paper px-2"
          value={template}
          onChange={(event) => onChange(event.target.value)}
        />
        <Help about={t`Names`}>
          <p>
            <Trans>
              A field in braces is filled for each frame; {seq} counts with three digits. The files
              of a frame keep a common name. Names that are taken get a number, and nothing is
              written over.
            </Trans>
          </p>
          <p>
            <Trans>
              Characters that some system can’t have in a name become “-”. No name leads out of the
              folder.
            </Trans>
          </p>
        </Help>
      </label>
      {template.includes('{seq') && (
        <p className="figures flex flex-wrap items-center gap-2 text-[13px]">
          <label className="flex items-center gap-2">
            <Trans>counting from</Trans>
            <input
              inputMode="numeric"
              maxLength={8}
              aria-label={t`Counting from`}
              className="h-7 w-20 rounded border border-line bg-paper px-2 text-right"
              value={seqFrom}
              onChange={(event) =>
                onSeqFrom(Number(event.target.value.replace(/\D/g, '').slice(0, 7)))
              }
            />
          </label>
          {seqNext > 1 && seqNext !== seqFrom && (
            <button type="button" className="underline" onClick={() => onSeqFrom(seqNext)}>
              <Trans>go on at {seqNext}, where the last names stopped</Trans>
            </button>
          )}
        </p>
      )}
      <details>
        <summary className="cursor-pointer text-[13px] underline">
          {folders ? t`fields in braces, and “/” for folders` : t`fields in braces`}
        </summary>
        <dl className="grid grid-cols-[auto_1fr_auto_1fr] gap-x-3 text-[13px]">
          {Object.entries(fields ?? {}).map(([name, words]) => (
            <div key={name} className="contents">
              <dt>
                <button
                  type="button"
                  className="underline"
                  onClick={() => onChange(`${template}{${name}}`)}
                >{`{${name}}`}</button>
              </dt>
              <dd className="text-quiet">{words}</dd>
            </div>
          ))}
        </dl>
      </details>
    </div>
  );
}
