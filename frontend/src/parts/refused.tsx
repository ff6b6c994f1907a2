import { inWords } from '../api/client';

/** A refusal, in the server's words; nothing where there is none. */
export function Refused({ error }: { error: unknown }) {
  if (!error) return null;
  return (
    <p role="alert" className="font-semibold text-wrong">
      {inWords(error)}
    </p>
  );
}
