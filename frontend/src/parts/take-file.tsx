import { t } from '@lingui/core/macro';
import { useRef } from 'react';

import { Button } from './button';

/** A button that asks for a text file. */
export function TakeFile({
  words,
  ending,
  most = 100_000,
  onText,
  onProblem,
}: {
  words: string;
  ending: string;
  /** bytes */
  most?: number;
  onText: (text: string) => void;
  onProblem: (words: string) => void;
}) {
  const field = useRef<HTMLInputElement>(null);
  return (
    <>
      <input
        ref={field}
        type="file"
        accept={ending}
        aria-label={words}
        className="hidden"
        onChange={(event) => {
          const file = event.target.files?.[0];
          event.target.value = '';
          if (!file) return;
          if (file.size > most) onProblem(t`This file is too large.`);
          else file.text().then(onText, () => onProblem(t`This file can’t be read.`));
        }}
      />
      <Button onClick={() => field.current?.click()}>{words}</Button>
    </>
  );
}
