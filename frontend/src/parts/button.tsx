import type { ComponentProps } from 'react';

/** A button; `main` for the one that the screen is for. */
export function Button({
  main = false,
  className = '',
  ...rest
}: ComponentProps<'button'> & { main?: boolean }) {
  const look = main
    ? 'bg-ink text-paper border-ink'
    : 'bg-paper text-ink border-line hover:border-quiet';
  return (
    <button
      type="button"
      className={`inline-flex h-9 items-center justify-center gap-2 rounded border px-4 font-semibold whitespace-nowrap ${look} ${className}`}
      {...rest}
    />
  );
}
