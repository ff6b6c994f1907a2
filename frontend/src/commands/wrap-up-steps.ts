/** The steps of the wrap-up in their order, each with the command that goes there. */
import { t } from '@lingui/core/macro';

export const WRAP_UP_STEPS = [
  ['go-tally', t`Tally`],
  ['go-write', t`Write marks and texts to files`],
  ['go-rename', t`Rename in place`],
  ['go-deliver', t`Deliver to a folder`],
  ['go-hand-over', t`Hand to another program`],
  ['go-prove', t`Show proofs`],
  ['go-lists', t`Lists`],
  ['go-set-aside', t`Set the rejects aside`],
] as const;
