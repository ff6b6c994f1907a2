import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import { useMemo } from 'react';

import { keepFocus } from '../../parts/keep-focus';
import { LinkedSign } from '../../parts/linked-sign';
import { useHints } from '../../state/hints';
import { link, namesOf, togetherIn } from '../../state/pairs';
import { useSharing } from '../../state/sharing';
import { useShoot } from '../../state/shoot';

/** Frames of which none shows everybody with open eyes, and all of them together do; to be linked. */
export function TogetherWords({ frames }: { frames: readonly number[] }) {
  const linked = useShoot((state) => {
    const parts = state.byId.get(frames[0]!)?.parts;
    return !!parts && frames.every((id) => parts.includes(id));
  });
  const guest = useSharing()?.guest;
  return (
    <span data-together={frames.join(' ')} className="flex shrink-0 items-center gap-2">
      <span className="flex items-center gap-1.5">
        <LinkedSign size={20} />
        {linked ? (
          <Trans>{namesOf(frames)} are one picture</Trans>
        ) : (
          <Trans>nobody blinks in {namesOf(frames)} together</Trans>
        )}
      </span>
      {!linked && !guest && (
        <button
          type="button"
          tabIndex={-1}
          className="underline"
          title={t`No frame that can be used shows everybody with open eyes. Linked, they are picked, decided and delivered together.`}
          onMouseDown={keepFocus}
          onClick={() => link(frames)}
        >
          <Trans>link them</Trans>
        </button>
      )}
    </span>
  );
}

/** What of a group is linked, picture by picture, and what of it might be. */
export function GroupTogether({ ids }: { ids: readonly number[] }) {
  const together = useHints((state) => state.together);
  const byId = useShoot((state) => state.byId);
  const pictures = useMemo(() => {
    const partsOf = (id: number) => byId.get(id)?.parts;
    const linked = [...new Set(ids.map(partsOf).filter((parts) => parts !== undefined))];
    const set = togetherIn(ids, together);
    return set?.some((id) => !partsOf(id)) ? [...linked, set] : linked;
  }, [ids, byId, together]);
  return pictures.map((frames) => <TogetherWords key={frames.join(' ')} frames={frames} />);
}
