import { t } from '@lingui/core/macro';

import type { SeenFace } from '../../api/client';
import { useShoot } from '../../state/shoot';

/** Small pictures of faces in a row that wraps; a click goes to the frame. */
export function Faces({
  faces,
  size = 72,
  out,
  onGo,
}: {
  faces: readonly SeenFace[];
  size?: number;
  /** takes a face out of its person, if that can be */
  out?: (face: SeenFace) => void;
  onGo: (frame: number) => void;
}) {
  return (
    <ul className="mt-2 flex flex-wrap gap-1.5">
      {faces.map((face) => (
        <li key={`${face.frame} ${face.box[0]}`} className="relative">
          <FaceButton face={face} size={size} onGo={onGo} />
          {out && (
            <button
              type="button"
              title={t`Not this person: take the face out`}
              aria-label={t`Not this person: take the face out`}
              className="absolute top-0 right-0 rounded-bl bg-black/75 px-1.5 text-sm leading-5 text-white"
              onClick={() => out(face)}
            >
              ×
            </button>
          )}
        </li>
      ))}
    </ul>
  );
}

export function FaceButton({
  face,
  size,
  onGo,
}: {
  face: SeenFace;
  size: number;
  onGo: (frame: number) => void;
}) {
  const { shootId } = useShoot.getState();
  const frame = useShoot((state) => state.byId.get(face.frame));
  const [left, top, right, bottom] = face.box as [number, number, number, number];
  const asked = new URLSearchParams({
    frame: String(face.frame),
    left: left.toFixed(5),
    top: top.toFixed(5),
    right: right.toFixed(5),
    bottom: bottom.toFixed(5),
    key: frame?.key ?? '',
  });
  const name = frame?.name ?? '';
  return (
    <button
      type="button"
      title={t`Go to ${name}`}
      aria-label={t`Go to ${name}`}
      className="block overflow-hidden rounded bg-black/20"
      style={{ width: size, height: size }}
      onClick={() => onGo(face.frame)}
    >
      <img
        src={`/api/shoots/${shootId}/people/face?${asked}`}
        alt=""
        loading="lazy"
        width={size}
        height={size}
      />
    </button>
  );
}
