/** Going from face to face while looking close. */
import { t } from '@lingui/core/macro';

import { inWords } from '../../api/client';
import type { View } from '../../commands/stage';
import { lookAt, shownNow } from '../../state/compare';
import { eyesWords, nextRow, pointOf, useFaces } from '../../state/faces';
import { sizeOf } from '../../state/frames';
import { useShoot } from '../../state/shoot';
import { CLOSEST, stageSize, type Close } from '../../state/zoom';
import { useLooked } from '../frame/use-subject';
import { faceRows } from './use-face-rows';

/** Look close at the next face of the active frame, or the one before. */
export async function stepFace(view: View, way: 1 | -1, lookClose: () => void): Promise<void> {
  const { shootId, active, say } = useShoot.getState();
  if (active === null) return;
  // With those beside it, so that a face keeps its row.
  const shown = view === 'side' ? shownNow() : [active];
  try {
    const table = await faceRows(shootId, shown.includes(active) ? shown : [active]);
    const row = nextRow(table, active, useFaces.getState().row, way);
    if (row === null) {
      say(
        table.waits ? t`Faces are still being looked for in this frame` : t`No face was found here`,
      );
      return;
    }
    const face = table.rows[row]!.faces[table.frames.indexOf(active)]!;
    useFaces.setState({ row });
    lookAtPoint(view, active, pointOf(face));
    lookClose();
    const of = table.rows.filter((row) => row.faces[table.frames.indexOf(active)]).length;
    const place = table.rows
      .slice(0, row + 1)
      .filter((row) => row.faces[table.frames.indexOf(active)]).length;
    say(t`Face ${place} of ${of}: eyes ${eyesWords(face)}`);
  } catch (error) {
    say(inWords(error), true);
  }
}

/** What of the height of the view a face takes that is zoomed to. */
const FACE_SHARE = 0.6;

/**
 * Zoom to the face that is looked at, or the first one: it fills the view. Where it did so already,
 * the whole picture is shown again.
 */
export async function fitFace(
  view: View,
  zoom: (how: (now: Close) => Close) => void,
): Promise<void> {
  const { shootId, active, byId, say } = useShoot.getState();
  const frame = byId.get(active ?? -1);
  if (!frame) return;
  try {
    const table = await faceRows(shootId, [frame.id]);
    const there = table.rows.flatMap((row) => row.faces[0] ?? []);
    const face = there[Math.max(0, Math.min(useFaces.getState().row, there.length - 1))];
    const size = sizeOf(frame);
    if (!face || !size) {
      say(t`No face was found here`);
      return;
    }
    const [, top, , bottom] = face.box as [number, number, number, number];
    const { height } = stageSize.current;
    const px = (bottom - top) * size.height;
    const ratio = window.devicePixelRatio || 1;
    const near = Math.min(CLOSEST, (FACE_SHARE * height * ratio) / px);
    lookAtPoint(view, frame.id, pointOf(face));
    zoom((now) => (now && Math.abs(now / near - 1) < 0.01 ? 0 : near));
  } catch (error) {
    say(inWords(error), true);
  }
}

/** Look at a point (0…1 of the upright picture) of a frame, which becomes the active one. */
export function lookAtPoint(view: View, frame: number, point: { x: number; y: number }): void {
  useShoot.getState().go(frame);
  if (view === 'frame')
    useLooked.setState({ look: { frame, ...point }, points: new Map([[frame, point]]) });
  else lookAt({ frame, ...point });
}
