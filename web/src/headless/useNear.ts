// Whether something has ever been near the window: what is far below is neither fetched nor drawn.
import { useEffect, useState } from "react";

/** How far below the window it is near already. */
const AHEAD = "400px";

export function useNear(box: { current: Element | null }): boolean {
  const [near, setNear] = useState(false);
  useEffect(() => {
    if (near || !box.current) return;
    const watch = new IntersectionObserver((entries) => entries.some((e) => e.isIntersecting) && setNear(true), {
      rootMargin: AHEAD,
    });
    watch.observe(box.current);
    return () => watch.disconnect();
  }, [near, box]);
  return near;
}
