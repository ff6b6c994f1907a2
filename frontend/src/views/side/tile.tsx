import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';

import { useShallow } from 'zustand/react/shallow';

import { type Label } from '../../api/client';
import { EyeSign } from '../../parts/eye-sign';
import { FaceSigns } from '../../parts/face-sign';
import { MarksOver } from '../../parts/marks';
import { useCompare } from '../../state/compare';
import { markInWords, type Frame } from '../../state/frames';
import type { FaceSign } from '../../state/faces';
import { thresholdOf, useHints, type HintsState } from '../../state/hints';
import { useShoot } from '../../state/shoot';
import { labelName } from '../../state/mark-words';
import { type Point } from '../frame/place';
import { filled } from '../frame/sharpness';
import { allSmile, exposureWords, eyesOf, focusWords } from './placement';
import { TilePicture, type OnDrag, type OnZoom } from './tile-picture';
import { CAPTION, type Tile } from './tiles';
import { type Close, CLOSEST, closeWords } from '../../state/zoom';

/** What some face of a frame shows, as hints say it. */
const signsFor =
  (id: number) =>
  ({ byFrame }: Pick<HintsState, 'byFrame'>): FaceSign[] =>
    (byFrame.get(id) ?? []).flatMap(({ name }) =>
      name === 'gaze' || name === 'speech' ? [name] : [],
    );

const isHalfClosed =
  (id: number) =>
  ({ byFrame }: Pick<HintsState, 'byFrame'>): boolean =>
    (byFrame.get(id) ?? []).some(({ name }) => name === 'half_closed');

/** Of a letter, about: long words on the eyes leave less room for those on focus. */
const WORD_PX = 10;
/** Of the sign of what a face shows; narrower tiles show it without its words. */
const SIGN_PX = 26;
const WORDS_FROM_PX = 380;
/** Below this width, less what signs take, the bar goes: figure and word say the same. */
const BAR_FROM_PX = 280;
/** Below this width of a tile the eyes are told by their shape alone, and the figure has no room. */
const EYES_SAID_FROM_PX = 190;

/**
 * One of the compared frames, fitted into its tile or at 100 % around the part that is looked at.
 */
export function FrameTile({
  id,
  place,
  number,
  box,
  near,
  closeBox,
  labels,
  carried,
  bare,
  onActivate,
  onPoint,
  onDrag,
  onZoom,
}: {
  id: number;
  /** its place among the tiles, from 1 */
  number: number;
  place?: string | undefined;
  box: Tile;
  near: Close;
  /** its tile when looking close, for which the part is fetched beforehand */
  closeBox: Tile;
  labels: readonly Label[];
  carried: boolean;
  bare: boolean;
  onActivate: (id: number) => void;
  /** a point of the frame, as it lies on screen, was clicked; null: it was close already */
  onPoint: (frame: Frame, point: Point | null) => void;
  onDrag: OnDrag;
  onZoom: OnZoom;
}) {
  const frame = useShoot((state) => state.byId.get(id));
  const mark = useShoot((state) => state.marks.get(id));
  const active = useShoot((state) => state.active === id);
  const beside = useCompare((state) => state.places.get(id));
  const nudged = useCompare((state) => state.nudges.get(id));
  const own = useCompare((state) => state.zooms.get(id) ?? 1);
  const softFrom = useHints(thresholdOf('soft_eyes')) ?? Infinity;
  const limits = useHints(thresholdOf('clipped'));
  const named = useHints(useShallow(signsFor(id)));
  const half = useHints(isHalfClosed(id));
  if (!frame || !mark) return null;
  const nameOf = (letter: string) => labelName(labels, letter);
  const exposure = exposureWords(beside, limits, box.width);
  const eyes = eyesOf(beside, softFrom, half);
  const brief = box.width < WORDS_FROM_PX;
  const signs = allSmile(beside) ? (['smile', ...named] as const) : named;
  const room =
    (eyes ? WORD_PX * Math.max(0, eyes.words.length - 6) : 0) +
    signs.length * (brief ? SIGN_PX : SIGN_PX + WORD_PX * 10);
  return (
    <figure
      data-tile={frame.name}
      data-shows={id}
      data-active={active}
      aria-label={`${place ? `${place}: ` : ''}${frame.name}, ${markInWords(mark, nameOf)}${active ? t`, active` : ''}`}
      className="absolute"
      style={{ left: box.left, top: box.top, width: box.width, height: box.height + CAPTION }}
    >
      <div
        className="relative overflow-hidden bg-black/20"
        style={{
          height: box.height,
          outline: active ? '2px solid var(--color-on-stage)' : undefined,
          outlineOffset: 1,
        }}
      >
        <TilePicture
          frame={frame}
          box={box}
          near={near}
          closeBox={closeBox}
          active={active}
          onActivate={onActivate}
          onPoint={onPoint}
          onDrag={onDrag}
          onZoom={onZoom}
        />
        <div className="pointer-events-none absolute inset-0">
          <MarksOver mark={mark} labels={labels} linked={!!frame.parts} large={box.height > 260} />
        </div>
        {near > 0 && beside && !beside.sure && (
          <span
            title={t`The part was not found in this frame: the same coordinates are shown. Drag with Alt to move it by itself.`}
            className="absolute top-1 left-1/2 -translate-x-1/2 rounded bg-black/75 px-2 text-[13px] whitespace-nowrap text-white"
          >
            <Trans>place not found</Trans>
          </span>
        )}
        {near > 0 && !beside && frame.picture === 2 && (
          <span className="absolute top-1 left-1/2 -translate-x-1/2 rounded bg-black/75 px-2 text-[13px] whitespace-nowrap text-white">
            <Trans>looking for the place …</Trans>
          </span>
        )}
      </div>
      <figcaption
        className={`figures flex h-6 items-center gap-x-2 overflow-hidden px-0.5 text-[13px] whitespace-nowrap text-on-stage ${bare ? 'invisible' : ''}`}
      >
        <span className={active ? 'font-bold' : ''}>
          {place ?? number} {frame.name}
        </span>
        {beside && beside.standing.state !== 'not found' && box.width - room >= BAR_FROM_PX && (
          <span
            className="h-1.5 w-8 shrink-0 rounded-sm bg-black/35"
            title={t`The longer the bar, the sharper at this part`}
          >
            <span
              className="block h-full rounded-sm bg-on-stage"
              style={{ width: `${100 * filled(beside.standing.blur)}%` }}
            />
          </span>
        )}
        <span
          className="truncate"
          data-standing={beside?.standing.state}
          title={focusWords(beside)}
        >
          {(!eyes || box.width >= EYES_SAID_FROM_PX) && focusWords(beside, box.width - room)}
        </span>
        {eyes && (
          <span
            data-eyes-say={eyes.words}
            title={t`Eyes ${eyes.words}`}
            className={`flex shrink-0 items-center gap-1 ${eyes.look === 'open' ? '' : 'font-bold'}`}
          >
            <EyeSign look={eyes.look} /> {box.width >= EYES_SAID_FROM_PX && eyes.words}
          </span>
        )}
        <FaceSigns signs={signs} brief={brief} />
        {exposure.length > 0 && (
          <span className="truncate" title={exposureWords(beside, limits).join(' · ')}>
            {exposure.join(' · ')}
          </span>
        )}
        {carried && (
          <span className="font-bold">
            <Trans>carried</Trans>
          </span>
        )}
        {near > 0 && own !== 1 && <span>{closeWords(Math.min(CLOSEST, near * own))} %</span>}
        {near > 0 && nudged && (nudged.x !== 0 || nudged.y !== 0) && (
          <span title={t`moved by itself; Backspace takes that back`}>
            <Trans>
              nudged {Math.round(nudged.x)}, {Math.round(nudged.y)}
            </Trans>
          </span>
        )}
      </figcaption>
    </figure>
  );
}
