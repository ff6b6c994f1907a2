/** Which mark's key is held down now: the pointer sweeps that mark over frames. */
import type { Edit } from '../commands/registry';

export const heldMark: { edit: Edit | null } = { edit: null };

export function hold(edit: Edit): void {
  heldMark.edit = edit;
}

export function release(): void {
  heldMark.edit = null;
}
