/** Frames that are parts of one picture, which is put together later. */
import { t } from '@lingui/core/macro';

import { api, ask, WINDOW } from '../api/client';
import { useHints, type HintsState } from './hints';
import { change, targets } from './marking';
import { useShoot } from './shoot';
import { reload } from './sync';

/** "QH2_0104 and QH2_0106" */
export function namesOf(ids: readonly number[]): string {
  const { byId } = useShoot.getState();
  const names = ids.map((id) => byId.get(id)?.name ?? '');
  const last = names.at(-1) ?? '';
  const others = names.slice(0, -1).join(', ');
  return others ? t`${others} and ${last}` : last;
}

/** Frames, and the other parts of their pictures. */
export function withParts(ids: readonly number[]): number[] {
  const { byId } = useShoot.getState();
  return ids.flatMap((id) => byId.get(id)?.parts ?? [id]);
}

/** The set that one of these frames is in, of frames in which together nobody blinks. */
export function togetherIn(
  ids: readonly number[],
  together: HintsState['together'],
): readonly number[] | undefined {
  const here = new Set(ids);
  return together.find((set) => set.every((id) => here.has(id)));
}

/** Link frames as parts of one picture: they are picked, and get the keyword of the settings. */
export function link(frames: readonly number[]): void {
  const { shootId } = useShoot.getState();
  changed(() =>
    ask(
      api.POST('/api/shoots/{shoot}/pairs', {
        params: { path: { shoot: shootId } },
        body: { frames: [...frames], window: WINDOW },
      }),
    ),
  );
}

/** Take the picture apart that a frame is a part of. */
export function takeApart(frame: number): void {
  const { shootId } = useShoot.getState();
  changed(() =>
    ask(
      api.POST('/api/shoots/{shoot}/pairs/apart', {
        params: { path: { shoot: shootId } },
        body: { frame, window: WINDOW },
      }),
    ),
  );
}

function changed(asking: Parameters<typeof change>[0]): void {
  change(
    asking,
    ({ sentence }) => sentence ?? t`They are parts of one picture already`,
    // Which frames are linked comes with them.
    (problem) => problem || void reload().catch(() => undefined),
    false,
  );
}

/**
 * Link the selected frames, or those of this group in which together nobody blinks; take the
 * picture apart where it is linked already.
 */
export function linkHere(): void {
  const { byId, frames, active, selection, say } = useShoot.getState();
  const chosen = selection.length > 1 ? selection : [];
  const of = chosen.length ? chosen : targets();
  const parts = byId.get(of[0] ?? -1)?.parts;
  if (parts && of.every((id) => parts.includes(id))) {
    takeApart(parts[0]!);
    return;
  }
  const group = byId.get(active ?? -1)?.group;
  const members = frames.filter((frame) => frame.group === group).map((frame) => frame.id);
  const wanted = chosen.length ? chosen : togetherIn(members, useHints.getState().together);
  if (wanted) link(wanted);
  else say(t`Select the frames that are parts of one picture, then link them`);
}
