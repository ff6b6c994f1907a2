import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';

import { Help } from '../../../parts/help';
import { api, ask, type Settings } from '../../../api/client';
import { ProfilePanel } from './profile-panel';

/** Where marks are written and how, and whether that happens by itself. */
export function FileSettings({
  shootId,
  settings,
  onChange,
}: {
  shootId: number;
  settings: Settings;
  onChange: (settings: Settings) => void;
}) {
  const [editing, setEditing] = useState(false);
  const { data: profiles } = useQuery({
    queryKey: ['profiles'],
    queryFn: () => ask(api.GET('/api/profiles')),
  });
  const select = 'h-8 rounded border border-line bg-paper px-2';
  return (
    <div className="grid grid-cols-[auto_1fr] items-center gap-x-4 gap-y-2">
      <span id="file-where">
        <Trans>Write to</Trans>
      </span>
      <select
        aria-labelledby="file-where"
        className={`${select} justify-self-start`}
        value={settings.embed ? 'jpeg' : 'sidecar'}
        onChange={(event) => onChange({ ...settings, embed: event.target.value === 'jpeg' })}
      >
        <option value="sidecar">{t`sidecars beside the pictures; no picture is touched`}</option>
        <option value="jpeg">{t`JPEGs themselves, and sidecars beside all other files`}</option>
      </select>
      <span id="file-names">
        <Trans>New sidecars are called</Trans>
      </span>
      <select
        aria-labelledby="file-names"
        className={`${select} justify-self-start`}
        value={settings.sidecar_names}
        onChange={(event) =>
          onChange({
            ...settings,
            sidecar_names: event.target.value as Settings['sidecar_names'],
          })
        }
      >
        <option value="stem">{t`name.xmp, as most programs do`}</option>
        <option value="full">{t`name.jpg.xmp, with the picture’s ending`}</option>
      </select>
      <span id="file-profile">
        <Trans>Marks are said as in</Trans>
      </span>
      <span className="flex items-center gap-3">
        <select
          aria-labelledby="file-profile"
          className={select}
          value={
            profiles?.some((profile) => profile.name === settings.profile) ? settings.profile : ''
          }
          onChange={(event) => onChange({ ...settings, profile: event.target.value })}
        >
          <option value="">{t`the standard profile`}</option>
          {profiles?.map((profile) => (
            <option key={profile.name} value={profile.name}>
              {profile.name}
            </option>
          ))}
        </select>
        <button type="button" className="underline" onClick={() => setEditing(true)}>
          <Trans>profiles</Trans>
        </button>
        <Help about={t`Profiles and sidecars`}>
          <p>
            <Trans>
              A sidecar is a small text file beside the picture, which most programs for photographs
              read. Ratings, labels and captions have standard places in it; for a pick there is
              none that all agree on.
            </Trans>
          </p>
          <p>
            <Trans>
              A profile says how picks, rejects and labels are written so that another program shows
              them as you mean them. Try it with one frame first.
            </Trans>
          </p>
        </Help>
      </span>
      <label className="col-span-2 flex items-center gap-2">
        <input
          type="checkbox"
          checked={settings.write_by_itself}
          onChange={(event) => onChange({ ...settings, write_by_itself: event.target.checked })}
        />
        <Trans>write by itself, a moment after each mark; conflicts wait here</Trans>
      </label>
      <ProfilePanel
        open={editing}
        onClose={() => setEditing(false)}
        shootId={shootId}
        profiles={profiles ?? []}
        inUse={settings.profile}
        onUse={(profile) => onChange({ ...settings, profile })}
      />
    </div>
  );
}
