// How wide a box is inside, as it changes.
import { useEffect, useState } from "react";

export function useWidth(box: { current: HTMLElement | null }): number {
  const [width, setWidth] = useState(860);
  useEffect(() => {
    if (!box.current) return;
    const watch = new ResizeObserver(([seen]) => seen && setWidth(Math.floor(seen.contentRect.width)));
    watch.observe(box.current);
    return () => watch.disconnect();
  }, [box]);
  return width;
}
