import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import { Fragment, useCallback, useEffect, useState } from 'react';

import { Help } from '../../parts/help';
import { pictureUrl } from '../../api/client';
import { EyeSign } from '../../parts/eye-sign';
import { FaceSigns } from '../../parts/face-sign';
import { keepFocus } from '../../parts/keep-focus';
import { eyesLook, eyesWords, pointOf, signsOf, useFaces, type Face } from '../../state/faces';
import { ratioOf, type Frame } from '../../state/frames';
import { useShoot } from '../../state/shoot';
import { useSettings } from '../../state/settings';
import { useGuest } from '../../state/sharing';
import { eyesCrop, faceCrop, partOf } from './crop';
import { Edge } from './edge';
import { GAP, tileSize, type Size } from './sizes';
import { TogetherWords } from '../groups/together';
import { MOST_COLUMNS, useFaceRows } from './use-face-rows';
import { WhoCounts } from './who-counts';
import { counted, fixed } from '../../texts/numbers';

/** The edge, the heading and the names of the frames. */
const HEADING_PX = 64;

const ZOOMS = { faces: t`faces`, eyes: t`eyes` };

/** The faces of frames: a row for each person, a column for each frame. */
export function FacePanel({
  ids,
  toldAbove = false,
  onLook,
}: {
  ids: readonly number[];
  /** what is said of this group's frames together stands above them already */
  toldAbove?: boolean;
  /** a face was clicked: it is to be looked at close */
  onLook: (frame: number, point: { x: number; y: number }) => void;
}) {
  const { open, zoom, row: looked } = useFaces();
  const active = useShoot((state) => state.active);
  const data = useFaceRows(ids, open);
  const [settings, save] = useSettings();
  const guest = useGuest();
  // While the edge is dragged.
  const [moved, setMoved] = useState<number | null>(null);
  const [{ width, whole }, setRoom] = useState({ width: 0, whole: 0 });
  const measured = useCallback((panel: HTMLElement | null) => {
    const stage = panel?.parentElement;
    if (!stage) return;
    const watch = new ResizeObserver(() =>
      setRoom({ width: panel.clientWidth, whole: stage.clientHeight }),
    );
    watch.observe(stage);
    return () => watch.disconnect();
  }, []);
  if (!open) return null;
  const share = moved ?? settings.faces_share;
  const room = { width, height: share * whole - HEADING_PX };
  const size = tileSize(zoom, data?.frames.length ?? 1, room);
  const more = ids.length - MOST_COLUMNS;
  return (
    <section
      ref={measured}
      aria-label={t`Faces`}
      className="figures flex shrink-0 flex-col bg-black/25 text-[13px] text-on-stage"
      style={{ maxHeight: `${100 * share}%` }}
    >
      <Edge
        share={share}
        whole={whole}
        onMove={setMoved}
        onDone={(done) => {
          setMoved(null);
          save({ ...settings, faces_share: done });
        }}
      />
      <div className="flex h-8 shrink-0 items-center gap-3 px-3">
        <strong>{data ? headline(data.rows.length) : t`Faces …`}</strong>
        {data?.waits && (
          <span>
            <Trans>faces are still being looked for in some of these</Trans>
          </span>
        )}
        {more > 0 && (
          <span>
            <Trans>of the first {MOST_COLUMNS} frames</Trans>
          </span>
        )}
        <Help about={t`Faces`}>
          <p>
            <Trans>
              A row is a person, matched within these frames by where a face is and how it looks
              there; a column is a frame. Nothing here says who somebody is.
            </Trans>
          </p>
          <p>
            <Trans>
              Beside the eyes it says who smiles, who looks away and who is in mid-speech, where
              that can be told: not of faces that are turned away or blurred.
            </Trans>
          </p>
          <p>
            <Trans>
              ◆ stands at the best of each row: eyes first, then gaze and mouth, then how sharp the
              eyes are, then smiles; at several where nobody sees a difference.
            </Trans>
          </p>
          <p>
            <Trans>
              Pale faces don’t count toward hints: they are too small or too blurred, or somebody
              said so. A click looks close there, in all frames.
            </Trans>
          </p>
          <p>
            <Trans>
              Over a row it can be said that this person counts most, or not at all (a passer-by):
              the frames are judged there, and the order of the group follows.
            </Trans>
          </p>
        </Help>
        <span className="flex-1" />
        <span role="group" aria-label={t`Enlarged to`} className="flex gap-1">
          {(['faces', 'eyes'] as const).map((part) => (
            <button
              key={part}
              type="button"
              aria-pressed={zoom === part}
              className={`rounded px-2 py-0.5 ${zoom === part ? 'bg-paper text-ink' : ''}`}
              onMouseDown={keepFocus}
              onClick={() => useFaces.setState({ zoom: part })}
            >
              {ZOOMS[part]}
            </button>
          ))}
        </span>
        <button
          type="button"
          className="underline"
          onMouseDown={keepFocus}
          onClick={() => useFaces.setState({ open: false })}
        >
          <Trans>close</Trans>
        </button>
      </div>
      {!!data?.together.length && !toldAbove && (
        <p className="flex shrink-0 items-center px-3 pb-1">
          <TogetherWords frames={data.together} />
        </p>
      )}
      <div className="min-h-0 overflow-auto pb-2">
        {data && data.rows.length > 0 && (
          <table className="border-separate" style={{ borderSpacing: `${GAP}px 2px` }}>
            <thead>
              <tr>
                {data.frames.map((id) => (
                  <FrameName key={id} id={id} active={id === active} />
                ))}
              </tr>
            </thead>
            <tbody>
              {data.rows.map((row, n) => (
                <Fragment key={n}>
                  {!guest && (
                    <tr>
                      <td colSpan={data.frames.length}>
                        <WhoCounts faces={row.faces} />
                      </td>
                    </tr>
                  )}
                  <tr data-face-row={n + 1}>
                    {row.faces.map((face, column) => (
                      <td key={data.frames[column]} className="align-top">
                        {face ? (
                          <FaceCell
                            face={face}
                            zoom={zoom}
                            size={size}
                            best={row.best.includes(column)}
                            active={face.frame === active}
                            looked={looked === n && face.frame === active}
                            onClick={() => {
                              useFaces.setState({ row: n });
                              onLook(face.frame, pointOf(face));
                            }}
                          />
                        ) : (
                          <span
                            className="flex items-center justify-center text-center"
                            style={size}
                          >
                            <Trans>not seen</Trans>
                          </span>
                        )}
                      </td>
                    ))}
                  </tr>
                </Fragment>
              ))}
            </tbody>
          </table>
        )}
      </div>
    </section>
  );
}

function headline(rows: number): string {
  if (!rows) return t`No face was found in these frames`;
  return counted(rows, 'face');
}

function FrameName({ id, active }: { id: number; active: boolean }) {
  const name = useShoot((state) => state.byId.get(id)?.name);
  return (
    <th scope="col" className={`text-left ${active ? 'font-bold underline' : 'font-normal'}`}>
      {name}
    </th>
  );
}

function titleOf(name: string, words: string, face: Face): string {
  if (face.counts) return t`${name}: eyes ${words}. Click: look close.`;
  if (face.weight === 'none') return t`${name}: eyes ${words}; doesn’t count. Click: look close.`;
  return t`${name}: eyes ${words}; too small or too blurred to count toward hints. Click: look close.`;
}

function FaceCell({
  face,
  zoom,
  size,
  best,
  active,
  looked,
  onClick,
}: {
  face: Face;
  zoom: 'eyes' | 'faces';
  size: Size;
  /** no other face of its row is better */
  best: boolean;
  active: boolean;
  looked: boolean;
  onClick: () => void;
}) {
  const frame = useShoot((state) => state.byId.get(face.frame));
  if (!frame) return null;
  const words = eyesWords(face);
  const look = eyesLook(face);
  const wrong = look === 'closed' || look === 'half' || look === 'soft';
  return (
    <button
      type="button"
      data-eyes-say={words}
      data-best={best}
      title={titleOf(frame.name, words, face)}
      className="block text-left"
      onMouseDown={keepFocus}
      onClick={onClick}
    >
      <span
        className="relative block overflow-hidden bg-black/30"
        style={{
          ...size,
          outline: looked
            ? '3px solid var(--color-on-stage)'
            : active
              ? '1px solid var(--color-on-stage)'
              : undefined,
        }}
      >
        <span className={face.counts ? '' : 'opacity-50'}>
          <Crop frame={frame} face={face} zoom={zoom} shape={size.width / size.height} />
        </span>
        {best && (
          <span className="absolute top-1 left-1 rounded bg-black/75 px-1.5 text-xs font-bold text-white">
            ◆ <Trans>best</Trans>
          </span>
        )}
      </span>
      <span className={`flex items-center gap-1.5 ${wrong ? 'font-bold' : ''}`}>
        <EyeSign look={look} /> {words}
        {face.judged_px !== null && (
          <span className="font-normal">
            <Trans>{fixed(face.judged_px, 1)} px</Trans>
          </span>
        )}
      </span>
      <FaceSigns signs={signsOf(face)} />
    </button>
  );
}

/** The part of the frame: from the preview at once, at full size as soon as it is there. */
function Crop({
  frame,
  face,
  zoom,
  shape,
}: {
  frame: Frame;
  face: Face;
  zoom: 'eyes' | 'faces';
  /** width to height */
  shape: number;
}) {
  const [ready, setReady] = useState('');
  const upright = { ...frame, turned: 0 };
  const size = { width: frame.width ?? 1500, height: frame.height ?? 1000 };
  const crop = (zoom === 'eyes' ? eyesCrop : faceCrop)(face, ratioOf(upright), shape);
  const part = partOf(crop, size);
  const url = part
    ? `/api/frames/${frame.id}/part?left=${part.left}&top=${part.top}&width=${part.width}&height=${part.height}&key=${frame.key ?? ''}`
    : '';
  useEffect(() => {
    if (!url) return;
    const wish = { on: true };
    const image = new Image();
    image.src = url;
    image.decode().then(
      () => {
        if (wish.on) setReady(url);
      },
      () => undefined,
    );
    return () => {
      wish.on = false;
    };
  }, [url]);
  const lies = (box: { left: number; top: number; width: number; height: number }) => ({
    left: `${(100 * (box.left - crop.left)) / crop.width}%`,
    top: `${(100 * (box.top - crop.top)) / crop.height}%`,
    width: `${(100 * box.width) / crop.width}%`,
    height: `${(100 * box.height) / crop.height}%`,
  });
  return (
    <>
      {frame.picture === 2 && (
        <img
          src={pictureUrl(frame, 'preview')}
          alt=""
          draggable={false}
          className="absolute max-w-none"
          style={lies({ left: 0, top: 0, width: 1, height: 1 })}
        />
      )}
      {part && ready === url && (
        <img
          src={url}
          alt=""
          draggable={false}
          data-full="true"
          className="absolute max-w-none"
          style={lies({
            left: part.left / size.width,
            top: part.top / size.height,
            width: part.width / size.width,
            height: part.height / size.height,
          })}
        />
      )}
    </>
  );
}
