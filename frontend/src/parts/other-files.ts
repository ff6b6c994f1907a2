import { t } from '@lingui/core/macro';

import type { Shoot } from '../api/client';
import { counted, whole } from '../texts/numbers';

const NAMED = 5;

/** "12 other files: 10 .txt, 2 .mov"; empty when there are none. */
export function otherFiles(folders: Shoot['folders']): string {
  return named(
    'other file',
    folders.map((folder) => folder.beside.others),
  );
}

/** "12 companion files: 10 .mov, 2 .wav"; empty when there are none. */
export function companionFiles(folders: Shoot['folders']): string {
  return named(
    'companion file',
    folders.map((folder) => folder.beside.companions),
  );
}

function named(
  noun: 'other file' | 'companion file',
  counts: readonly Readonly<Record<string, number>>[],
): string {
  const byEnding = new Map<string, number>();
  for (const [ending, count] of counts.flatMap((count) => Object.entries(count))) {
    byEnding.set(ending, (byEnding.get(ending) ?? 0) + count);
  }
  const listed = [...byEnding].sort((a, b) => b[1] - a[1]);
  const number = listed.reduce((sum, [, count]) => sum + count, 0);
  if (!number) return '';
  const some = listed
    .slice(0, NAMED)
    .map(([ending, count]) => `${whole(count)} ${ending ? `.${ending}` : t`without an ending`}`);
  return `${counted(number, noun)}: ${some.join(', ')}${listed.length > NAMED ? t` and more` : ''}`;
}
