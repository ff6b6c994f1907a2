import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { X } from 'lucide-react';
import { useState } from 'react';

import { api, ask, inWords, type Label } from '../../api/client';
import { Button } from '../../parts/button';
import { fileName, saveText } from '../../parts/files';
import { SmallButton } from '../../parts/small-button';
import { TakeFile } from '../../parts/take-file';

/** Sets of labels under a name, or in a file: kept, taken and forgotten. */
export function LabelSets({
  labels,
  onTake,
  onProblem,
}: {
  labels: Label[];
  onTake: (labels: Label[]) => void;
  onProblem: (words: string) => void;
}) {
  const client = useQueryClient();
  const [name, setName] = useState('');
  const { data: saved } = useQuery({
    queryKey: ['label-sets'],
    queryFn: () => ask(api.GET('/api/label-sets')),
  });
  const takeSets = (sets: typeof saved) => client.setQueryData(['label-sets'], sets);
  const failed = (error: unknown) => onProblem(inWords(error));
  return (
    <>
      <h3 className="mt-6 mb-2 font-bold">
        <Trans>Sets</Trans>
      </h3>
      <div className="flex flex-wrap items-center gap-2">
        {saved?.map((set) => (
          <span key={set.name} className="flex items-center rounded border border-line bg-paper">
            <button
              type="button"
              className="px-3 py-1.5"
              title={t`Put these labels into the table above`}
              onClick={() => onTake(set.labels)}
            >
              {set.name}
            </button>
            <SmallButton
              words={t`Forget the set ${set.name}`}
              off={false}
              onClick={() => {
                ask(api.DELETE('/api/label-sets', { params: { query: { name: set.name } } })).then(
                  takeSets,
                  failed,
                );
              }}
            >
              <X size={16} />
            </SmallButton>
          </span>
        ))}
        <input
          aria-label={t`Name of the set`}
          placeholder={t`name of this set`}
          maxLength={60}
          value={name}
          onChange={(event) => setName(event.target.value)}
          className="h-9 w-44 rounded border border-line bg-paper px-2"
        />
        <Button
          disabled={!name.trim()}
          onClick={() => {
            ask(api.PUT('/api/label-sets', { body: { name: name.trim(), labels } })).then(
              takeSets,
              failed,
            );
          }}
        >
          <Trans>Save</Trans>
        </Button>
        <Button
          onClick={() => {
            const set = { name: name.trim() || t`Labels`, labels };
            ask(api.POST('/api/label-sets/to-file', { body: set })).then(
              ({ text }) => saveText(fileName(set.name, '.labels.json'), text),
              failed,
            );
          }}
        >
          <Trans>To a file</Trans>
        </Button>
        <TakeFile
          words={t`From a file`}
          ending=".json"
          onProblem={onProblem}
          onText={(text) => {
            ask(api.POST('/api/label-sets/from-file', { body: { text } })).then((set) => {
              onTake(set.labels);
              setName(set.name);
            }, failed);
          }}
        />
      </div>
    </>
  );
}
