// What is typed survives leaving the page and a reload, until it is kept or undone.
import { useCallback, useEffect, useState } from "react";

/** The draft at a place, a way to change it, and one to let it go once it is kept elsewhere. */
export function useDraft<T extends object>(place: string, kept: T): [T, (to: T) => void, () => void] {
  const [draft, setDraft] = useState<T>(() => {
    try {
      return { ...kept, ...JSON.parse(sessionStorage.getItem(place) ?? "{}") };
    } catch {
      return kept;
    }
  });
  useEffect(() => sessionStorage.setItem(place, JSON.stringify(draft)), [place, draft]);
  const letGo = useCallback(() => sessionStorage.removeItem(place), [place]);
  return [draft, setDraft, letGo];
}
