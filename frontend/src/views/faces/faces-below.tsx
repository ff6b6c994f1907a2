import type { Close } from '../frame/photograph';
import { FacePanel } from './face-panel';
import { lookAtPoint } from './step';

/** The faces of frames that stand beside each other; a click looks close at one. */
export function FacesBelow({
  view,
  ids,
  bare,
  onClose,
}: {
  view: Parameters<typeof lookAtPoint>[0];
  ids: readonly number[];
  /** nothing but the photographs */
  bare: boolean;
  onClose: (near: Close) => void;
}) {
  if (bare) return null;
  return (
    <FacePanel
      ids={ids}
      onLook={(id, point) => {
        lookAtPoint(view, id, point);
        onClose(1);
      }}
    />
  );
}
