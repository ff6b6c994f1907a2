import { useQuery } from '@tanstack/react-query';

import { api, ask } from '../../api/client';

/** How the copies are called, with the fields that a name can have. */
export function DeliveryNames({
  template,
  onChange,
}: {
  template: string;
  onChange: (value: string) => void;
}) {
  const { data: fields } = useQuery({
    queryKey: ['name-fields'],
    queryFn: () => ask(api.GET('/api/deliveries/fields')),
    staleTime: Infinity,
  });
  return (
    <div className="flex flex-col gap-1">
      <label className="flex items-center gap-3">
        Names
        <input
          type="text"
          aria-label="Names of the copies"
          spellCheck={false}
          maxLength={300}
          className="h-8 min-w-0 flex-1 rounded border border-line bg-paper px-2"
          value={template}
          onChange={(event) => onChange(event.target.value)}
        />
      </label>
      <details>
        <summary className="cursor-pointer text-[13px] underline">
          fields in braces, and “/” for folders
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
