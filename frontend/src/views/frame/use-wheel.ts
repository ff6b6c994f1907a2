import { useEffect, useRef, type RefObject } from 'react';

import { wheelFactor } from '../../state/zoom';

/** What the wheel does over an element: a factor, and where in it, in CSS px. */
export function useWheel(
  area: RefObject<HTMLElement | null>,
  onWheel: (factor: number, x: number, y: number, event: WheelEvent) => void,
): void {
  const act = useRef(onWheel);
  useEffect(() => {
    act.current = onWheel;
  });
  useEffect(() => {
    const element = area.current;
    if (!element) return;
    const turned = (event: WheelEvent) => {
      // With Ctrl, or two fingers, the browser would zoom the page.
      event.preventDefault();
      const bounds = element.getBoundingClientRect();
      act.current(
        wheelFactor(event),
        event.clientX - bounds.left,
        event.clientY - bounds.top,
        event,
      );
    };
    element.addEventListener('wheel', turned, { passive: false });
    return () => element.removeEventListener('wheel', turned);
  }, [area]);
}
