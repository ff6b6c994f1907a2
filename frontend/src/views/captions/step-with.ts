import { useShoot } from '../../state/shoot';

/** Go to the next or previous frame and stay in this field. */
export function stepWith(label: string, way: 1 | -1): void {
  const { visible, active, go, select } = useShoot.getState();
  const at = visible.indexOf(active ?? -1);
  select([]);
  go(visible[Math.min(visible.length - 1, Math.max(0, at + way))]);
  // The field of the next frame is another one, as soon as its texts are there.
  let tries = 0;
  const focus = () => {
    const field = document.querySelector<HTMLElement>(`aside [aria-label="${label}"]`);
    if (field && document.activeElement !== field) field.focus();
    if (tries++ < 20) setTimeout(focus, 50);
  };
  setTimeout(focus, 0);
}
