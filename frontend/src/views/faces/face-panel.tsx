import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import { useEffect, useState } from 'react';

import { Help } from '../../parts/help';
import { pictureUrl } from '../../api/client';
import { EyeSign } from '../../parts/eye-sign';
import { FaceSigns } from '../../parts/face-sign';
import { keepFocus } from '../../parts/keep-focus';
import { eyesLook, eyesWords, pointOf, signsOf, useFaces, type Face } from '../../state/faces';
import { ratioOf, type Frame } from '../../state/frames';
import { useShoot } from '../../state/shoot';
import { eyesCrop, faceCrop, partOf } from './crop';
import { MOST_COLUMNS, useFaceRows } from './use-face-rows';
import { counted, fixed } from '../../texts/numbers';

/** One row is larger than several. */
const FACE_HEIGHT = { one: 104, several: 88 };
const EYES_HEIGHT = 56;
/** width to height */
const FACE_SHAPE = 0.95;
const EYES_SHAPE = 2.5;

const ZOOMS = { faces: t`faces`, eyes: t`eyes` };

/** The faces of frames: a row for each person, a column for each frame. */
export function FacePanel({
  ids,
  onLook,
}: {
  ids: readonly number[];
  /** a face was clicked: it is to be looked at close */
  onLook: (frame: number, point: { x: number; y: number }) => void;
}) {
  const { open, zoom, row: looked } = useFaces();
  const active = useShoot((state) => state.active);
  const data = useFaceRows(ids, open);
  if (!open) return null;
  const more = ids.length - MOST_COLUMNS;
  return (
    <section
      aria-label={t`Faces`}
      className="figures flex max-h-[42%] shrink-0 flex-col border-t border-black/30 bg-black/25 text-[13px] text-on-stage"
    >
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
              there; a column is a frame. Nothing here or stored says who somebody is.
            </Trans>
          </p>
          <p>
            <Trans>
              Beside the eyes it says who looks away and who is in mid-speech, where that can be
              told: not of faces that are turned away, blurred, or smile broadly.
            </Trans>
          </p>
          <p>
            <Trans>
              Pale faces are too small or too blurred to count toward hints. A click looks close
              there, in all frames.
            </Trans>
          </p>
        </Help>
        <span className="flex-1" />
        <span role="group" aria-label={t`Enlarged to`} className="flex gap-1">
          {(['faces', 'eyes'] as const).map((one) => (
            <button
              key={one}
              type="button"
              aria-pressed={zoom === one}
              className={`rounded px-2 py-0.5 ${zoom === one ? 'bg-paper text-ink' : ''}`}
              onMouseDown={keepFocus}
              onClick={() => useFaces.setState({ zoom: one })}
            >
              {ZOOMS[one]}
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
      {data && data.rows.length > 0 && (
        <div className="overflow-auto px-3 pb-2">
          <table className="border-separate border-spacing-x-2 border-spacing-y-0.5">
            <thead>
              <tr>
                {data.frames.map((id) => (
                  <FrameName key={id} id={id} active={id === active} />
                ))}
              </tr>
            </thead>
            <tbody>
              {data.rows.map((row, n) => (
                <tr key={n} data-face-row={n + 1}>
                  {row.faces.map((face, column) => (
                    <td key={data.frames[column]} className="align-top">
                      {face ? (
                        <FaceCell
                          face={face}
                          zoom={zoom}
                          size={cellSize(zoom, data.rows.length)}
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
                          style={cellSize(zoom, data.rows.length)}
                        >
                          <Trans>not seen</Trans>
                        </span>
                      )}
                    </td>
                  ))}
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      )}
    </section>
  );
}

function headline(rows: number): string {
  if (!rows) return t`No face was found in these frames`;
  return counted(rows, 'face');
}

function cellSize(zoom: 'eyes' | 'faces', rows: number): { width: number; height: number } {
  if (zoom === 'eyes') return { height: EYES_HEIGHT, width: EYES_HEIGHT * EYES_SHAPE };
  const height = rows > 1 ? FACE_HEIGHT.several : FACE_HEIGHT.one;
  return { height, width: Math.max(96, Math.round(height * FACE_SHAPE)) };
}

function FrameName({ id, active }: { id: number; active: boolean }) {
  const name = useShoot((state) => state.byId.get(id)?.name);
  return (
    <th scope="col" className={`text-left ${active ? 'font-bold underline' : 'font-normal'}`}>
      {name}
    </th>
  );
}

function FaceCell({
  face,
  zoom,
  size,
  active,
  looked,
  onClick,
}: {
  face: Face;
  zoom: 'eyes' | 'faces';
  /** px */
  size: { width: number; height: number };
  active: boolean;
  looked: boolean;
  onClick: () => void;
}) {
  const frame = useShoot((state) => state.byId.get(face.frame));
  if (!frame) return null;
  const words = eyesWords(face);
  const look = eyesLook(face);
  const wrong = look === 'closed' || look === 'soft';
  return (
    <button
      type="button"
      data-eyes-say={words}
      title={
        face.counts
          ? t`${frame.name}: eyes ${words}. Click: look close.`
          : t`${frame.name}: eyes ${words}; too small or too blurred to count toward hints. Click: look close.`
      }
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
      </span>
      <span className={`flex items-center gap-1.5 ${wrong ? 'font-bold' : ''}`}>
        <EyeSign look={look} /> {words}
        {face.blur !== null && (
          <span className="font-normal">
            <Trans>{fixed(face.blur, 1)} px</Trans>
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
