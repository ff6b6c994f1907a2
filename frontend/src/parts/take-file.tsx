import { useRef } from 'react';

import { Button } from './button';

const MOST_BYTES = 100_000;

/** A button that asks for a text file. */
export function TakeFile({
  words,
  ending,
  onText,
  onProblem,
}: {
  words: string;
  ending: string;
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
          if (file.size > MOST_BYTES) onProblem('This file is too large for a set.');
          else file.text().then(onText, () => onProblem('This file can’t be read.'));
        }}
      />
      <Button onClick={() => field.current?.click()}>{words}</Button>
    </>
  );
}
