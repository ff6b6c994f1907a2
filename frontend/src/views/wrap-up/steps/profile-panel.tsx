import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';

import { api, ask, inWords, type Profile, type Samples } from '../../../api/client';
import { Button } from '../../../parts/button';
import { Panel } from '../../../parts/dialog';
import { counted } from '../../../texts/numbers';
import { markInWords } from '../../../state/frames';
import { useLabels } from '../../../state/settings';
import { labelName } from '../../../state/mark-words';
import { Tick } from '../../../parts/tick';

const FIELD = 'h-8 rounded border border-line bg-paper px-2';

const FRESH: Profile = {
  name: '',
  pick_good: true,
  pick_stars: 0,
  pick_label: '',
  reject_rating: true,
  reject_label: '',
  labels: {},
};

/**
 * Named profiles of how marks are written, each with a preview of what other programs will read.
 */
export function ProfilePanel({
  open,
  onClose,
  shootId,
  profiles,
  inUse,
  onUse,
}: {
  open: boolean;
  onClose: () => void;
  shootId: number;
  profiles: readonly Profile[];
  inUse: string;
  onUse: (name: string) => void;
}) {
  const client = useQueryClient();
  const labels = useLabels();
  const [draft, setDraft] = useState<Profile | null>(null);
  const profile = draft ?? profiles.find((profile) => profile.name === inUse) ?? FRESH;
  const edit = (change: Partial<Profile>) => setDraft({ ...profile, ...change });
  const { data: preview } = useQuery({
    queryKey: ['profile-preview', shootId, profile, labels],
    queryFn: () =>
      ask(
        api.POST('/api/shoots/{shoot}/profiles/preview', {
          params: { path: { shoot: shootId } },
          body: { ...profile, name: profile.name.trim() || 'new' },
        }),
      ),
    placeholderData: (before) => before,
    enabled: open,
  });
  const kept = (after: Profile[]) => {
    client.setQueryData(['profiles'], after);
    void client.invalidateQueries({ queryKey: ['files', shootId] });
    setDraft(null);
  };
  const save = useMutation({
    mutationFn: () => ask(api.PUT('/api/profiles', { body: profile })),
    onSuccess: (after) => {
      kept(after);
      onUse(profile.name);
    },
  });
  const forget = useMutation({
    mutationFn: (name: string) => ask(api.DELETE('/api/profiles', { params: { query: { name } } })),
    onSuccess: (after) => {
      kept(after);
      onUse('');
    },
  });
  return (
    <Panel
      open={open}
      onClose={() => {
        setDraft(null);
        onClose();
      }}
      title={t`How marks are written for other programs`}
      wide
    >
      <div className="grid grid-cols-[minmax(0,1fr)_minmax(0,1fr)] gap-8">
        <div className="flex flex-col gap-3">
          <label className="flex items-center gap-3">
            <span className="w-24">
              <Trans>Profile</Trans>
            </span>
            <select
              className={`${FIELD} flex-1`}
              value={draft ? '' : inUse}
              onChange={(event) => {
                setDraft(null);
                onUse(event.target.value);
              }}
            >
              <option value="">{draft ? t`being changed` : t`the standard one`}</option>
              {profiles.map((profile) => (
                <option key={profile.name} value={profile.name}>
                  {profile.name}
                </option>
              ))}
            </select>
          </label>
          <fieldset className="flex flex-col gap-2">
            <legend className="mb-1 font-bold">
              <Trans>A pick</Trans>
            </legend>
            <Tick on={profile.pick_good} onChange={(on) => edit({ pick_good: on })}>
              <Trans>as xmpDM:good, which few programs read</Trans>
            </Tick>
            <label className="flex items-center gap-2">
              <Trans>with</Trans>
              <select
                aria-label={t`Stars of a pick`}
                className={FIELD}
                value={profile.pick_stars}
                onChange={(event) => edit({ pick_stars: Number(event.target.value) })}
              >
                <option value={0}>{t`the stars that it has`}</option>
                {[1, 2, 3, 4, 5].map((stars) => (
                  <option key={stars} value={stars}>{t`at least ${stars}★`}</option>
                ))}
              </select>
            </label>
            <LabelText
              name={t`Label text of a pick`}
              value={profile.pick_label}
              onChange={(text) => edit({ pick_label: text })}
            />
          </fieldset>
          <fieldset className="flex flex-col gap-2">
            <legend className="mb-1 font-bold">
              <Trans>A reject</Trans>
            </legend>
            <Tick on={profile.reject_rating} onChange={(on) => edit({ reject_rating: on })}>
              <Trans>as a rating of −1, as XMP says</Trans>
            </Tick>
            <LabelText
              name={t`Label text of a reject`}
              value={profile.reject_label}
              onChange={(text) => edit({ reject_label: text })}
            />
          </fieldset>
          <fieldset className="flex flex-col gap-1.5">
            <legend className="mb-1 font-bold">
              <Trans>Labels</Trans>
            </legend>
            {labels.map((label) => (
              <label key={label.letter} className="flex items-center gap-2">
                <span className="w-24 truncate">{label.name}</span>
                <input
                  aria-label={t`Text of ${label.name}`}
                  className={`${FIELD} min-w-0 flex-1`}
                  value={profile.labels[label.letter] ?? ''}
                  placeholder={label.written_as}
                  maxLength={100}
                  onChange={(event) => {
                    // An empty text is the label set's own.
                    edit({ labels: { ...profile.labels, [label.letter]: event.target.value } });
                  }}
                />
              </label>
            ))}
          </fieldset>
        </div>
        <Preview preview={preview} />
      </div>
      <div className="mt-5 flex flex-wrap items-center gap-3 border-t border-line pt-4">
        <input
          aria-label={t`Name of the profile`}
          className={`${FIELD} w-56`}
          placeholder={t`a name for this profile`}
          maxLength={60}
          value={profile.name}
          onChange={(event) => edit({ name: event.target.value })}
        />
        <Button
          main
          disabled={!draft || !profile.name.trim() || !!preview?.problem || save.isPending}
          onClick={() => save.mutate()}
        >
          <Trans>Keep and use</Trans>
        </Button>
        {!draft && inUse && (
          <Button onClick={() => forget.mutate(inUse)}>
            <Trans>Remove “{inUse}”</Trans>
          </Button>
        )}
        {(save.error ?? forget.error) && (
          <span role="alert">{inWords(save.error ?? forget.error)}</span>
        )}
      </div>
    </Panel>
  );
}

function Preview({ preview }: { preview: Samples | undefined }) {
  const labels = useLabels();
  const nameOf = (letter: string) => labelName(labels, letter);
  const said = (mark: Samples['samples'][number]['mark']) =>
    markInWords({ ...mark, label: mark.label ?? null }, nameOf);
  return (
    <div className="flex flex-col gap-3" aria-live="polite">
      {preview?.problem && (
        <p role="alert" className="font-semibold text-wrong">
          {preview.problem}
        </p>
      )}
      <table className="figures text-left text-[13px]">
        <thead className="text-quiet">
          <tr>
            <th className="pb-1 font-normal">
              <Trans>A frame that is</Trans>
            </th>
            <th className="font-normal">
              <Trans>rating</Trans>
            </th>
            <th className="font-normal">
              <Trans>label</Trans>
            </th>
            <th className="font-normal">
              <Trans>good</Trans>
            </th>
          </tr>
        </thead>
        <tbody>
          {preview?.samples.map((sample) => (
            <tr key={said(sample.mark)} className="border-t border-line align-top">
              <td className="py-1 pr-3">
                {said(sample.mark)}
                {said(sample.again) !== said(sample.mark) && (
                  <div className="text-quiet">
                    <Trans>elsewhere: {said(sample.again)}</Trans>
                  </div>
                )}
              </td>
              <td className="py-1 pr-3">{sample.rating ?? '–'}</td>
              <td className="py-1 pr-3">{sample.label ?? '–'}</td>
              <td className="py-1">{sample.good === null ? '–' : sample.good ? 'yes' : 'no'}</td>
            </tr>
          ))}
        </tbody>
      </table>
      {!!preview?.ambiguous && (
        <p>
          <Trans>
            {counted(preview.ambiguous, 'frame')} of this shoot would look like picks to other
            programs and are none: they have as many stars.
          </Trans>
        </p>
      )}
      <p className="text-quiet">
        <Trans>
          What was written here is read as it was meant, whatever other programs make of it.
        </Trans>
      </p>
    </div>
  );
}

/** The text that a decision is written as, where the frame has no label of its own. */
function LabelText({
  name,
  value,
  onChange,
}: {
  name: string;
  value: string;
  onChange: (text: string) => void;
}) {
  return (
    <label className="flex items-center gap-2">
      <Trans>as the label text</Trans>
      <input
        aria-label={name}
        className={`${FIELD} min-w-0 flex-1`}
        value={value}
        placeholder={t`no text`}
        maxLength={100}
        onChange={(event) => onChange(event.target.value)}
      />
    </label>
  );
}
