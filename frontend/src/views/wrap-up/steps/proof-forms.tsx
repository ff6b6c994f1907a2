import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import type { ReactNode } from 'react';

import type { GalleryWish, SheetWish } from '../../../api/client';
import { Tick } from '../../../parts/tick';

const FIELD = 'h-8 rounded border border-line bg-paper px-2';
const PAPERS: readonly SheetWish['paper'][] = ['A5', 'A4', 'A3', 'Letter', 'Legal', 'Tabloid'];
const UNDER: readonly [SheetWish['under'][number], string][] = [
  ['number', t`number`],
  ['name', t`name`],
  ['marks', t`stars and label`],
  ['date', t`date and time`],
  ['title', t`title`],
  ['caption', t`caption`],
];

function Row({ label, children }: { label: string; children: ReactNode }) {
  return (
    <label className="grid grid-cols-[7rem_1fr] items-center gap-3">
      {label}
      {children}
    </label>
  );
}

function Number({
  label,
  value,
  most,
  onChange,
}: {
  label: string;
  value: number;
  most: number;
  onChange: (value: number) => void;
}) {
  return (
    <label className="flex items-center gap-2">
      {label}
      <input
        type="number"
        className={`${FIELD} w-16`}
        min={1}
        max={most}
        value={value}
        onChange={(event) => {
          const typed = Math.round(event.target.valueAsNumber);
          if (typed >= 1 && typed <= most) onChange(typed);
        }}
      />
    </label>
  );
}

function Heading({ value, onChange }: { value: string; onChange: (value: string) => void }) {
  return (
    <Row label={t`Heading`}>
      <input
        className={FIELD}
        maxLength={200}
        value={value}
        onChange={(event) => onChange(event.target.value)}
      />
    </Row>
  );
}

interface Edited<Wish> {
  wish: Wish;
  onChange: (wish: Wish) => void;
}

/** How a contact sheet on paper looks. */
export function SheetForm({ wish, onChange }: Edited<SheetWish>) {
  const edit = (change: Partial<SheetWish>) => onChange({ ...wish, ...change });
  return (
    <div className="flex flex-col gap-2">
      <Heading value={wish.title} onChange={(title) => edit({ title })} />
      <div className="flex flex-wrap items-center gap-x-4 gap-y-2">
        <label className="flex items-center gap-2">
          <Trans>Paper</Trans>
          <select
            className={FIELD}
            value={wish.paper}
            onChange={(event) => edit({ paper: event.target.value as SheetWish['paper'] })}
          >
            {PAPERS.map((paper) => (
              <option key={paper}>{paper}</option>
            ))}
          </select>
        </label>
        <Tick on={wish.landscape} onChange={(on) => edit({ landscape: on })}>
          <Trans>landscape</Trans>
        </Tick>
        <Number
          label={t`Rows on a page`}
          value={wish.rows}
          most={16}
          onChange={(rows) => edit({ rows })}
        />
      </div>
      <div
        role="group"
        aria-label={t`Under each picture`}
        className="flex flex-wrap items-center gap-x-4 gap-y-2"
      >
        <span>
          <Trans>Under each</Trans>
        </span>
        {UNDER.map(([name, words]) => (
          <Tick
            key={name}
            on={wish.under.includes(name)}
            onChange={(on) =>
              edit({
                under: on ? [...wish.under, name] : wish.under.filter((other) => other !== name),
              })
            }
          >
            {words}
          </Tick>
        ))}
      </div>
    </div>
  );
}

/** What a gallery shows. */
export function GalleryForm({ wish, onChange }: Edited<GalleryWish>) {
  const edit = (change: Partial<GalleryWish>) => onChange({ ...wish, ...change });
  return (
    <div className="flex flex-col gap-2">
      <Heading value={wish.title} onChange={(title) => edit({ title })} />
      <Row label={t`Greeting`}>
        <textarea
          className="rounded border border-line bg-paper px-2 py-1"
          rows={2}
          maxLength={5000}
          value={wish.greeting}
          onChange={(event) => edit({ greeting: event.target.value })}
        />
      </Row>
      <Row label={t`Watermark`}>
        <input
          className={FIELD}
          maxLength={80}
          placeholder={t`none`}
          value={wish.watermark}
          onChange={(event) => edit({ watermark: event.target.value })}
        />
      </Row>
      <div className="flex flex-wrap items-center gap-x-4 gap-y-2">
        <label className="flex items-center gap-2">
          <Trans>Pictures</Trans>
          <select
            className={FIELD}
            value={wish.longest}
            onChange={(event) =>
              edit({ longest: globalThis.Number(event.target.value) as GalleryWish['longest'] })
            }
          >
            <option value={1200}>{t`1,200 px`}</option>
            <option value={1600}>{t`1,600 px`}</option>
            <option value={2048}>{t`2,048 px`}</option>
          </select>
        </label>
        <label className="flex items-center gap-2">
          <Trans>To choose</Trans>
          <input
            type="number"
            className={`${FIELD} w-20`}
            min={1}
            max={5000}
            placeholder={t`any`}
            value={wish.wanted ?? ''}
            onChange={(event) => {
              const typed = Math.round(event.target.valueAsNumber);
              edit({ wanted: typed >= 1 && typed <= 5000 ? typed : null });
            }}
          />
        </label>
        <Tick on={wish.names} onChange={(on) => edit({ names: on })}>
          <Trans>with the frames’ names</Trans>
        </Tick>
      </div>
      <p className="text-[13px] text-quiet">
        <Trans>
          The pictures are made anew and hold no metadata: no place, no camera, no time.
        </Trans>
      </p>
    </div>
  );
}
