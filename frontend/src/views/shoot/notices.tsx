import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import { useState } from 'react';
import { Link } from 'react-router';

import type { Filter, Found, Shoot } from '../../api/client';
import { isRunning, useBringings } from '../../parts/bringings';
import { Button } from '../../parts/button';
import { MovedFolder } from '../../parts/moved-folder';
import { AnotherPicture, ChangedOutside, NotWritten } from './changed-outside';
import { GuestsDid } from '../guests/guests-did';
import { counted } from '../../texts/numbers';
import { otherFiles } from '../../parts/other-files';
import { keepFocus } from '../../parts/keep-focus';
import { NO_FILTER, useShoot } from '../../state/shoot';

/** What is wrong with the shoot now, in words. */
export function Notices({
  shoot,
  lost,
  onAgain,
}: {
  shoot: Shoot;
  lost: boolean;
  onAgain: () => void;
}) {
  const [hushed, setHushed] = useState('');
  const { failed, missing } = shoot.tally;
  const { data: bringings } = useBringings();
  const brought = bringings?.find((bringing) => bringing.shoot_id === shoot.id);
  const unsafe = brought && !isRunning(brought) && !brought.safe;
  const lines = [
    ...(lost ? [LOST] : []),
    ...(unsafe ? [`${brought.report} ${brought.notice}`] : []),
    ...shoot.folders.map((folder) => folder.notice).filter(Boolean),
    ...shoot.status.notices,
    ...(missing
      ? [t`${counted(missing, 'frame')} can’t be found on disk any more. Their marks are kept.`]
      : []),
    ...(failed && !shoot.status.running
      ? [t`${counted(failed, 'frame')} can’t be shown; each says why.`]
      : []),
  ];
  const text = lines.join(' ');
  const outside = (
    <>
      <ChangedOutside shoot={shoot} />
      <NotWritten shoot={shoot} />
      <AnotherPicture shoot={shoot} />
      <GuestsDid shoot={shoot} />
    </>
  );
  if (!text || text === hushed) return outside;
  return (
    <>
      {outside}
      <div
        role="alert"
        onMouseDown={keepFocus}
        className="flex items-center gap-4 border-b border-line bg-amber-100 px-4 py-1.5 text-black"
      >
        <span className="min-w-0 flex-1">{text}</span>
        <MovedFolder shoot={shoot} />
        <button type="button" className="underline" onClick={onAgain}>
          <Trans>look again</Trans>
        </button>
        <button type="button" className="underline" onClick={() => setHushed(text)}>
          <Trans>hide</Trans>
        </button>
      </div>
    </>
  );
}

const LOST = t`Winnow does not answer. Marks made now are not stored. Is it still running?`;

/** Where all but the photographs is hidden: only what endangers marks, or went wrong just now. */
export function Problems({ lost }: { lost: boolean }) {
  const notice = useShoot((state) => state.notice);
  const text = lost ? LOST : notice?.wrong ? notice.text : '';
  if (!text) return null;
  return (
    <p role="alert" className="border-b border-line bg-amber-100 px-4 py-1.5 text-black">
      {text}
    </p>
  );
}

/** A shoot without pictures. */
export function Empty({ shoot }: { shoot: Shoot }) {
  const others = otherFiles(shoot.folders);
  const gone = shoot.folders.some((folder) => folder.notice);
  return (
    <div className="flex h-full flex-col items-center justify-center gap-3 bg-stage text-on-stage">
      {shoot.status.running ? (
        <p>
          <Trans>Looking for pictures …</Trans>
        </p>
      ) : (
        <>
          <p className="text-lg font-bold">
            {gone ? t`This folder can’t be read now.` : t`No pictures in this folder yet.`}
          </p>
          {others && (
            <p>
              <Trans>In it: {others}.</Trans>
            </p>
          )}
          <p>
            <Trans>
              JPEG, PNG, TIFF, HEIC, AVIF, WebP, JPEG XL, PSD, OpenRaster and raw files appear here
              as soon as they are in the folder.
            </Trans>
          </p>
          <Link to="/" className="underline">
            <Trans>Open another folder</Trans>
          </Link>
        </>
      )}
    </div>
  );
}

/** A filter that leaves nothing says why, and offers the ways back. */
export function NothingPasses({
  filter,
  found,
  onChange,
  onUndo,
}: {
  filter: Filter;
  found: Found | null;
  onChange: (filter: Filter) => void;
  onUndo: (() => void) | undefined;
}) {
  const ways = waysBack(filter, found);
  return (
    <div className="flex h-full flex-col items-center justify-center gap-4 bg-stage text-on-stage">
      <p className="text-lg font-bold">
        <Trans>No frame passes “</Trans>
        {found?.words}”.
      </p>
      {!ways.length && (
        <p>
          <Trans>
            No single condition can be left out to see some: all of them are too narrow.
          </Trans>
        </p>
      )}
      <div className="flex flex-wrap justify-center gap-2">
        {ways.map(({ words, count, without }) => (
          <Button key={words} onClick={() => onChange(without)}>
            {words}
            {count !== null && `: ${counted(count, 'frame')}`}
          </Button>
        ))}
        <Button main onClick={() => onChange(NO_FILTER)}>
          <Trans>Show all frames</Trans>
        </Button>
        {onUndo && (
          <Button onClick={onUndo}>
            <Trans>Undo the last mark</Trans>
          </Button>
        )}
      </div>
    </div>
  );
}

/** Conditions that, left out alone, would let some frames pass, with how many. */
function waysBack(
  filter: Filter,
  found: Found | null,
): { words: string; count: number | null; without: Filter }[] {
  if (!found) return [];
  const sum = (counts: Record<string, number>) =>
    Object.values(counts).reduce((all, count) => all + count, 0);
  const most = Math.max(0, ...found.stars);
  return [
    ...(filter.decisions.length
      ? [
          {
            words: t`Any decision`,
            count: sum(found.decisions),
            without: { ...filter, decisions: [] },
          },
        ]
      : []),
    ...(filter.stars === null
      ? []
      : [{ words: t`Any stars`, count: most, without: { ...filter, stars: null } }]),
    ...(filter.labels.length
      ? [{ words: t`Any label`, count: sum(found.labels), without: { ...filter, labels: [] } }]
      : []),
    ...(filter.written
      ? [{ words: t`Without what is typed`, count: null, without: { ...filter, written: '' } }]
      : []),
  ].filter(({ count }) => count !== 0);
}
