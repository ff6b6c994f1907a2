import { useLayoutEffect, useState, type RefObject } from 'react';

/** The inner size of an element in CSS px, kept current; 0 × 0 until it is on the page. */
export function useSize(element: RefObject<HTMLElement | null>): { width: number; height: number } {
  const [size, setSize] = useState({ width: 0, height: 0 });
  useLayoutEffect(() => {
    const box = element.current;
    if (!box) return;
    const watch = new ResizeObserver(() =>
      setSize({ width: box.clientWidth, height: box.clientHeight }),
    );
    watch.observe(box);
    return () => watch.disconnect();
  }, [element]);
  return size;
}
