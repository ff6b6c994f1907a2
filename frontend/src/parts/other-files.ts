import { t } from '@lingui/core/macro';

import type { Shoot } from '../api/client';
import { counted, whole } from '../texts/numbers';

const NAMED = 5;

/** "12 other files: 10 .txt, 2 .mov"; empty when there is nothing but pictures. */
export function otherFiles(folders: Shoot['folders']): string {
  const byEnding = new Map<string, number>();
  for (const { others } of folders) {
    for (const [ending, count] of Object.entries(others)) {
      byEnding.set(ending, (byEnding.get(ending) ?? 0) + count);
    }
  }
  const listed = [...byEnding].sort((a, b) => b[1] - a[1]);
  const number = listed.reduce((sum, [, count]) => sum + count, 0);
  if (!number) return '';
  const named = listed
    .slice(0, NAMED)
    .map(([ending, count]) => `${whole(count)} ${ending ? `.${ending}` : t`without an ending`}`);
  return `${counted(number, 'other file')}: ${named.join(', ')}${listed.length > NAMED ? t` and more` : ''}`;
}
