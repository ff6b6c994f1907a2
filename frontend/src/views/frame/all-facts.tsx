import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import { useQuery } from '@tanstack/react-query';
import { X } from 'lucide-react';
import { useState } from 'react';

import { api, ask, type Facts } from '../../api/client';
import { useTitle } from '../../parts/key-cap';
import { keepFocus } from '../../parts/keep-focus';
import { cameraDay, fixed, offset, share, signed, whole, zone } from '../../texts/numbers';
import { clock } from '../../state/frames';
import { useFactsPanel } from '../../state/facts-panel';
import { useShoot } from '../../state/shoot';

/** Everything that is known of the active frame, beside it; the keys go on working. */
export function AllFacts() {
  const open = useFactsPanel((state) => state.open);
  return open ? <Open /> : null;
}

function Open() {
  const title = useTitle();
  const active = useShoot((state) => state.active);
  const textsVersion = useShoot((state) => state.textsVersion);
  const marksVersion = useShoot((state) => state.marksVersion);
  const { data } = useQuery({
    queryKey: ['facts', active, 'all', textsVersion, marksVersion],
    queryFn: () =>
      ask(api.GET('/api/frames/{frame}', { params: { path: { frame: active ?? 0 } } })),
    enabled: active !== null,
    // Stepping on, the facts of the frame before stay until those of this one are there.
    placeholderData: (before) => before,
  });
  return (
    <aside
      aria-label={t`All facts`}
      className="z-30 flex w-80 max-w-full shrink-0 flex-col gap-3 overflow-y-auto border-l border-line bg-chrome p-4 max-[800px]:absolute max-[800px]:inset-y-0 max-[800px]:right-0"
    >
      <div className="flex items-start">
        <h2 className="min-w-0 flex-1 truncate font-bold">
          {data ? t`Facts of ${data.name}` : t`Facts`}
        </h2>
        <button
          type="button"
          aria-label={t`Close the facts`}
          title={title(t`Close the facts`, 'all-facts')}
          onMouseDown={keepFocus}
          onClick={() => useFactsPanel.setState({ open: false })}
        >
          <X size={18} />
        </button>
      </div>
      {data && (
        <dl className="figures flex flex-col gap-2 text-[13px]">
          {lines(data).map(([name, value]) => (
            <Line key={name} name={name}>
              {value}
            </Line>
          ))}
          {data.latitude !== null && data.longitude !== null && (
            <Line name={t`Position`}>
              <Place latitude={data.latitude} longitude={data.longitude} />
            </Line>
          )}
        </dl>
      )}
    </aside>
  );
}

function Line({ name, children }: { name: string; children: React.ReactNode }) {
  return (
    <div>
      <dt className="text-quiet">{name}</dt>
      <dd className="min-w-0 break-words">{children}</dd>
    </div>
  );
}

/** Where it was taken: kept, but not shown unasked, as somebody may look over the shoulder. */
function Place({ latitude, longitude }: { latitude: number; longitude: number }) {
  const [shown, setShown] = useState(false);
  if (!shown) {
    return (
      <button type="button" className="underline" onClick={() => setShown(true)}>
        <Trans>stated in the file; show it</Trans>
      </button>
    );
  }
  return (
    <>
      {fixed(Math.abs(latitude), 5)}° {latitude < 0 ? 'S' : 'N'}, {fixed(Math.abs(longitude), 5)}°{' '}
      {longitude < 0 ? 'W' : 'E'}
    </>
  );
}

const SOURCES = {
  file: t`the file itself`,
  embedded: t`the raw file’s own preview`,
  developed: t`developed by Winnow at half size`,
  reduced: t`the file at a half of its size, or less`,
};
const CHANNELS = [t`red`, t`green`, t`blue`, t`all three`] as const;

function clipped(shares: readonly number[]): string {
  const named = CHANNELS.map((name, n) => [name, shares[n] ?? 0] as const);
  const some = named.filter(([, value]) => value >= 0.0005);
  return some.length
    ? some.map(([name, value]) => `${name} ${share(value)}`).join(', ')
    : t`nothing`;
}

/** The facts that are known, each with its name. */
function lines(facts: Facts): [string, string][] {
  const { texts, in_file } = facts;
  const all: [string, string | null | undefined | false][] = [
    [t`Files`, facts.files.join(', ')],
    [t`Sidecars`, facts.sidecars.join(', ')],
    [t`Companion files`, facts.companions.join(', ')],
    [t`Folder`, facts.folder],
    [t`Marked last by the guest`, facts.marked_by],
    [
      t`Taken`,
      facts.taken_at !== null &&
        (facts.dated
          ? t`${cameraDay(facts.taken_at)} ${clock(facts.taken_at)} by the camera’s clock` +
            (facts.utc_offset_min === null ? '' : `, ${zone(facts.utc_offset_min)}`)
          : t`not said; the file was changed ${cameraDay(facts.taken_at)} ${clock(facts.taken_at)}`),
    ],
    [t`In the order by`, ordered(facts)],
    [t`Clock set by`, facts.clock_offset_s !== 0 && offset(facts.clock_offset_s)],
    ...facts.stated
      .filter((fact) => !fact.alone)
      .map((fact): [string, string] => [fact.title, fact.words]),
    [
      t`Exposure`,
      facts.stated
        .map((fact) => fact.alone)
        .filter(Boolean)
        .join(' · '),
    ],
    [
      t`Focused at`,
      facts.focus_x !== null &&
        facts.focus_y !== null &&
        t`${share(facts.focus_x)} from the left, ${share(facts.focus_y)} from the top`,
    ],
    [
      t`Size`,
      facts.width !== null &&
        facts.height !== null &&
        t`${whole(facts.width)} × ${whole(facts.height)} px`,
    ],
    [t`Shown is`, facts.shown_from !== 'file' && SOURCES[facts.shown_from]],
    [t`At 100 % it is`, facts.close_from !== 'file' && SOURCES[facts.close_from]],
    [
      t`Judged at`,
      facts.standing &&
        [
          facts.judged_at,
          facts.standing.blur !== null && t`${fixed(facts.standing.blur, 1)} px`,
          facts.standing.words,
        ]
          .filter(Boolean)
          .join(' · '),
    ],
    [t`In its group`, facts.verdict],
    [t`Sharpest part`, !facts.standing && facts.blur_px !== null && sharpness(facts.blur_px)],
    [
      t`Brightness`,
      facts.brightness_ev !== null && t`${signed(facts.brightness_ev, 1)} EV against middle grey`,
    ],
    [t`Clipped high`, facts.clipped && clipped(facts.clipped.high)],
    [t`Clipped low`, facts.clipped && clipped(facts.clipped.low)],
    [t`Title`, texts.title],
    [t`Caption`, texts.caption],
    [t`Keywords`, texts.keywords.join(', ')],
    [t`Creator`, texts.creators.join('; ')],
    [t`Copyright`, texts.rights],
    [t`Place`, [texts.location, texts.city, texts.state, texts.country].filter(Boolean).join(', ')],
    [t`Instructions`, texts.instructions],
    [
      t`Rating in the picture`,
      in_file.rating !== null && in_file.rating !== undefined && String(in_file.rating),
    ],
    [t`Label in the picture`, in_file.label],
    [t`Notice`, facts.notice],
  ];
  return all.filter((line): line is [string, string] => !!line[1]);
}

/**
 * By what a frame has its place in the order; empty where no frame of the shoot states a time zone.
 */
function ordered(facts: Facts): string {
  const { shot_at, utc_offset_min, shoot_utc_offset_min } = facts;
  if (shot_at === null || shoot_utc_offset_min === null) return '';
  if (!facts.dated) return t`the time of the file`;
  if (utc_offset_min === null) return t`the camera’s clock; the file states no time zone`;
  return t`the instant, which is ${clock(shot_at)} in ${zone(shoot_utc_offset_min)}`;
}

/** Under a third of a px nobody can tell. */
function sharpness(blur: number): string {
  return blur < 0.35 ? t`sharp to the pixel` : t`blurred by ${fixed(blur, 1)} px at 100 %`;
}
