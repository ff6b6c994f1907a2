/** A sign that is a button, named by its words. */
export function SmallButton({
  words,
  off,
  ...rest
}: { words: string; off: boolean } & React.ComponentProps<'button'>) {
  return (
    <button
      type="button"
      aria-label={words}
      title={words}
      disabled={off}
      className="p-1 text-quiet hover:text-ink"
      {...rest}
    />
  );
}
