import { type RefObject, useEffect, useState } from 'react';

/** The width of an element in pixels, as it is now. */
export function useWidth(element: RefObject<HTMLElement | null>): number {
  const [width, setWidth] = useState(0);
  useEffect(() => {
    const watched = element.current;
    if (watched === null) return;
    const observer = new ResizeObserver(() => setWidth(watched.clientWidth));
    observer.observe(watched);
    return () => observer.disconnect();
  }, [element]);
  return width;
}
