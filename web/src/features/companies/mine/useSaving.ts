// Saves what is written a moment after the last key, one save after the other; a change made in another window is never overwritten.
import { useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useRef, useState } from "react";

/** Milliseconds without a key after which it is saved. */
const PAUSE = 1000;

interface Kept<T> {
  version: number;
  saved_at?: string | null;
  own: T;
}

export interface Saving {
  state: "saved" | "waiting" | "saving" | "refused";
  /** Why it was refused. */
  error: Error | null;
  /** Saves over what another window saved. */
  insist: () => void;
}

/** Keeps `draft` in place of what is kept under a query key. */
export function useSaving<T>(
  key: string[],
  kept: Kept<T>,
  draft: T,
  save: (madeTo: number, own: T) => Promise<Kept<T>>,
): Saving {
  const client = useQueryClient();
  const [error, setError] = useState<Error | null>(null);
  const [saving, setSaving] = useState(false);
  const changed = JSON.stringify(draft) !== JSON.stringify(kept.own);
  const now = useRef({ kept, draft, save });
  now.current = { kept, draft, save };
  const address = key.join("/");

  const write = useCallback(
    async (madeTo?: number) => {
      setSaving(true);
      try {
        const { kept, draft, save } = now.current;
        client.setQueryData(address.split("/"), await save(madeTo ?? kept.version, draft));
        setError(null);
      } catch (e) {
        setError(e as Error);
      } finally {
        setSaving(false);
      }
    },
    [client, address],
  );

  // biome-ignore lint/correctness/useExhaustiveDependencies: each key begins the pause anew
  useEffect(() => {
    if (!changed || saving || error) return;
    const timer = setTimeout(() => void write(), PAUSE);
    return () => clearTimeout(timer);
  }, [changed, saving, error, draft, write]);

  // Leaving saves at once; what could not be saved stays as a draft.
  useEffect(
    () => () => {
      const { kept, draft, save } = now.current;
      if (JSON.stringify(draft) !== JSON.stringify(kept.own)) {
        save(kept.version, draft)
          .then((then) => client.setQueryData(address.split("/"), then))
          .catch(() => {});
      }
    },
    [client, address],
  );

  const insist = () => {
    void client
      .fetchQuery<Kept<T>>({ queryKey: address.split("/"), staleTime: 0 })
      .then((theirs) => write(theirs.version));
  };
  const state = error ? "refused" : saving ? "saving" : changed ? "waiting" : "saved";
  return { state, error, insist };
}
