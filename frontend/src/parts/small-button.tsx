/** A sign that is a button, named by its words. */
export function SmallButton({
  words,
  off,
  onClick,
  children,
}: {
  words: string;
  off: boolean;
  onClick: () => void;
  children: React.ReactNode;
}) {
  return (
    <button
      type="button"
      aria-label={words}
      title={words}
      disabled={off}
      onClick={onClick}
      className="p-1 text-quiet hover:text-ink"
    >
      {children}
    </button>
  );
}
