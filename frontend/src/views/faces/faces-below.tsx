import { useHints } from '../../state/hints';
import { togetherIn } from '../../state/pairs';
import { FacePanel } from './face-panel';
import { lookAtPoint } from './step';
import type { Close } from '../../state/zoom';

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
  const together = useHints((state) => state.together);
  if (bare) return null;
  return (
    <FacePanel
      ids={ids}
      toldAbove={view === 'side' && !!togetherIn(ids, together)}
      onLook={(id, point) => {
        lookAtPoint(view, id, point);
        onClose(1);
      }}
    />
  );
}
