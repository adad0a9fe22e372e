// A part that is loaded when it is first wanted, and shown at once when it is there: what waits in a boundary is held back for
// some three tenths of a second, so that nothing flickers.
import { type ComponentType, useEffect, useState } from "react";

export function useLoaded<P>(load: () => Promise<ComponentType<P>>, wanted: boolean): ComponentType<P> | null {
  const [part, setPart] = useState<{ is: ComponentType<P> } | null>(null);
  useEffect(() => {
    if (wanted && !part) load().then((is) => setPart({ is }));
  }, [load, wanted, part]);
  return part?.is ?? null;
}
