import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';

import { api, ask, type Facts } from '../../api/client';
import { Panel } from '../../parts/dialog';
import { offset, share, shutter, signed } from '../../parts/numbers';
import { clock } from '../../state/frames';
import { useShoot } from '../../state/shoot';

/** Everything that is known of the active frame. */
export function AllFacts({ open, onClose }: { open: boolean; onClose: () => void }) {
  const active = useShoot((state) => state.active);
  const textsVersion = useShoot((state) => state.textsVersion);
  const { data } = useQuery({
    queryKey: ['facts', active, 'all', textsVersion],
    queryFn: () =>
      ask(api.GET('/api/frames/{frame}', { params: { path: { frame: active ?? 0 } } })),
    enabled: open && active !== null,
  });
  return (
    <Panel open={open} onClose={onClose} title={data ? `Facts of ${data.name}` : 'Facts'} wide>
      {data && (
        <dl className="figures grid grid-cols-[11rem_1fr] gap-x-5 gap-y-1">
          {lines(data).map(([name, value]) => (
            <Line key={name} name={name}>
              {value}
            </Line>
          ))}
          {data.latitude !== null && data.longitude !== null && (
            <Line name="Position">
              <Place latitude={data.latitude} longitude={data.longitude} />
            </Line>
          )}
        </dl>
      )}
    </Panel>
  );
}

function Line({ name, children }: { name: string; children: React.ReactNode }) {
  return (
    <>
      <dt className="text-right text-quiet">{name}</dt>
      <dd className="min-w-0 break-words">{children}</dd>
    </>
  );
}

/** Where it was taken: kept, but not shown unasked, as somebody may look over the shoulder. */
function Place({ latitude, longitude }: { latitude: number; longitude: number }) {
  const [shown, setShown] = useState(false);
  if (!shown) {
    return (
      <button type="button" className="underline" onClick={() => setShown(true)}>
        stated in the file; show it
      </button>
    );
  }
  return (
    <>
      {Math.abs(latitude).toFixed(5)}° {latitude < 0 ? 'S' : 'N'}, {Math.abs(longitude).toFixed(5)}°{' '}
      {longitude < 0 ? 'W' : 'E'}
    </>
  );
}

const SOURCES = {
  file: 'the file itself',
  embedded: 'the raw file’s own preview',
  developed: 'developed by Winnow at half size',
};
const CHANNELS = ['red', 'green', 'blue', 'all three'] as const;

function clipped(shares: readonly number[]): string {
  const named = CHANNELS.map((name, n) => [name, shares[n] ?? 0] as const);
  const some = named.filter(([, value]) => value >= 0.0005);
  return some.length
    ? some.map(([name, value]) => `${name} ${share(value)}`).join(', ')
    : 'nothing';
}

/** The facts that are known, each with its name. */
function lines(facts: Facts): [string, string][] {
  const { texts, in_file } = facts;
  const all: [string, string | null | undefined | false][] = [
    ['Files', facts.files.join(', ')],
    ['Sidecars', facts.sidecars.join(', ')],
    ['Folder', facts.folder],
    [
      'Taken',
      facts.taken_at !== null &&
        `${new Date(facts.taken_at * 1000).toISOString().slice(0, 10)} ${clock(facts.taken_at)} by the camera’s clock`,
    ],
    ['Clock set by', facts.clock_offset_s !== 0 && offset(facts.clock_offset_s)],
    ['Camera', facts.camera && facts.camera + (facts.serial ? `, no. ${facts.serial}` : '')],
    ['Lens', facts.lens && facts.lens + (facts.lens_serial ? `, no. ${facts.lens_serial}` : '')],
    ['Exposure', exposure(facts)],
    [
      'Exposure compensation',
      facts.exposure_bias_ev !== null && `${signed(facts.exposure_bias_ev, 2)} EV`,
    ],
    ['Drive', facts.drive_mode],
    ['Focus mode', facts.focus_mode],
    [
      'Focused at',
      facts.focus_x !== null &&
        facts.focus_y !== null &&
        `${share(facts.focus_x)} from the left, ${share(facts.focus_y)} from the top`,
    ],
    [
      'Size',
      facts.width !== null &&
        facts.height !== null &&
        `${facts.width.toLocaleString('en')} × ${facts.height.toLocaleString('en')} px`,
    ],
    ['Shown is', facts.shown_from !== 'file' && SOURCES[facts.shown_from]],
    ['At 100 % it is', facts.close_from !== 'file' && SOURCES[facts.close_from]],
    ['Sharpest part', facts.blur_px !== null && sharpness(facts.blur_px)],
    [
      'Brightness',
      facts.brightness_ev !== null && `${signed(facts.brightness_ev, 1)} EV against middle grey`,
    ],
    ['Clipped high', facts.clipped && clipped(facts.clipped.high)],
    ['Clipped low', facts.clipped && clipped(facts.clipped.low)],
    ['Title', texts.title],
    ['Caption', texts.caption],
    ['Keywords', texts.keywords.join(', ')],
    ['Creator', texts.creators.join('; ')],
    ['Copyright', texts.rights],
    ['Place', [texts.location, texts.city, texts.state, texts.country].filter(Boolean).join(', ')],
    [
      'Rating in the picture',
      in_file.rating !== null && in_file.rating !== undefined && String(in_file.rating),
    ],
    ['Label in the picture', in_file.label],
    ['Notice', facts.notice],
  ];
  return all.filter((line): line is [string, string] => !!line[1]);
}

/** Under a third of a px nobody can tell. */
function sharpness(blur: number): string {
  return blur < 0.35 ? 'sharp to the pixel' : `blurred by ${blur.toFixed(1)} px at 100 %`;
}

function exposure(facts: Facts): string {
  return [
    facts.shutter_s ? shutter(facts.shutter_s) : '',
    facts.aperture ? `f/${Number(facts.aperture.toFixed(1))}` : '',
    facts.iso ? `ISO ${facts.iso}` : '',
    facts.focal_mm ? `${Number(facts.focal_mm.toFixed(1))} mm` : '',
    facts.flash === null ? '' : facts.flash ? 'flash fired' : 'no flash',
  ]
    .filter(Boolean)
    .join(' · ');
}
