import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';

import { api, ask, inWords } from '../../../api/client';
import { counted } from '../../../texts/numbers';
import { useLabels } from '../../../state/settings';
import { useShoot } from '../../../state/shoot';
import { reload } from '../../../state/sync';
import { labelName } from '../../../state/mark-words';

/** Label texts that other programs wrote and that mean nothing here yet. */
export function LabelTexts({
  shootId,
  unknown,
}: {
  shootId: number;
  unknown: Record<string, number>;
}) {
  const client = useQueryClient();
  const labels = useLabels();
  const { data: known } = useQuery({
    queryKey: ['label-texts'],
    queryFn: () => ask(api.GET('/api/label-texts')),
  });
  const forget = useMutation({
    mutationFn: (text: string) =>
      ask(api.DELETE('/api/label-texts', { params: { query: { text } } })),
    onSuccess: (after) => {
      client.setQueryData(['label-texts'], after);
      void client.invalidateQueries({ queryKey: ['files', shootId] });
    },
  });
  const given = Object.entries(known ?? {});
  const nameOf = (letter: string) => (letter ? labelName(labels, letter) : t`no label`);
  const give = useMutation({
    mutationFn: (body: { text: string; letter: string }) =>
      ask(
        api.POST('/api/shoots/{shoot}/label-texts', {
          params: { path: { shoot: shootId } },
          body,
        }),
      ),
    onSuccess: (change) => {
      useShoot.getState().receive(change);
      if (change.sentence) useShoot.getState().say(change.sentence);
    },
    onSettled: async () => {
      await client.invalidateQueries({ queryKey: ['files', shootId] });
      await client.invalidateQueries({ queryKey: ['label-texts'] });
      await reload();
    },
  });
  if (!given.length && !Object.keys(unknown).length) return null;
  return (
    <section aria-label={t`Label texts`} className="rounded border border-line bg-paper p-3">
      <h4 className="font-bold">
        <Trans>Labels that other programs wrote</Trans>
      </h4>
      {Object.entries(unknown).map(([text, frames]) => (
        <label key={text} className="flex items-center gap-3 py-1">
          <span className="min-w-0 flex-1 break-words">
            <Trans>
              “{text}” in the files of {counted(frames, 'frame')} means
            </Trans>
          </span>
          <select
            aria-label={t`“${text}” means`}
            className="h-8 rounded border border-line bg-paper px-2"
            value="?"
            disabled={give.isPending}
            onChange={(event) => give.mutate({ text, letter: event.target.value })}
          >
            <option value="?" disabled>
              {t`not said yet: left as it is`}
            </option>
            {labels.map((label) => (
              <option key={label.letter} value={label.letter}>
                {label.name}
              </option>
            ))}
            <option value="">{t`no label`}</option>
          </select>
        </label>
      ))}
      {given.map(([text, letter]) => (
        <div key={text} className="flex items-center gap-3 py-1">
          <span className="min-w-0 flex-1 break-words">
            <Trans>
              “{text}” means <strong>{nameOf(letter)}</strong>
            </Trans>
          </span>
          <button type="button" className="underline" onClick={() => forget.mutate(text)}>
            <Trans>forget</Trans>
          </button>
        </div>
      ))}
      {give.error && <p role="alert">{inWords(give.error)}</p>}
    </section>
  );
}
