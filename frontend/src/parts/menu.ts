/** How menus look: what can be chosen, the line between parts, and the box around it all. */
export const ITEM =
  'flex cursor-default items-center gap-3 rounded px-2 py-1 outline-none pointer-coarse:py-2.5 data-[disabled]:opacity-50 data-[highlighted]:bg-ink data-[highlighted]:text-paper';
export const LINE = 'my-1 border-t border-line';
export const BOX =
  'z-50 min-w-60 rounded-lg border border-line bg-chrome p-1.5 text-ink shadow-2xl';
