/** Which mark's key is held down now: the pointer sweeps that mark over frames. */
import type { Edit } from './marking';

export const heldMark: { edit: Edit | null; code: string } = { edit: null, code: '' };

/** `code`: the place of the key on the keyboard. */
export function hold(edit: Edit, code: string): void {
  heldMark.edit = edit;
  heldMark.code = code;
}

/** The key at this place was let go; without one, whatever is held. */
export function release(code = heldMark.code): void {
  if (code === heldMark.code) heldMark.edit = null;
}
