import type { Shoot } from '../api/client';
import { NO_FILTER } from '../state/shoot';

/** A shoot without frames, but for what a test says of it. */
export function shoot(known: Partial<Shoot>): Shoot {
  return {
    id: 1,
    name: 'Fair',
    made_at: 0,
    opened_at: 0,
    filter: NO_FILTER,
    folders: [],
    tally: {
      frames: 0, shown: 0, done: 0, faces: 0, failed: 0, missing: 0, picks: 0, rejects: 0,
      undecided: 0, changed_outside: 0, in_conflict: 0,
    },
    status: { running: false, stage: '', stopped: false, notices: [] },
    cover: [],
    keep_target: null,
    way: '',
    archived: false,
    seq_next: 1,
    first_at: null,
    last_at: null,
    ...known,
  };
} // prettier-ignore
