// What is typed survives leaving the page and a reload, until it is kept or undone.
import { useEffect, useState } from "react";

export function useDraft<T extends object>(place: string, kept: T): [T, (to: T) => void] {
  const [draft, setDraft] = useState<T>(() => {
    try {
      return { ...kept, ...JSON.parse(sessionStorage.getItem(place) ?? "{}") };
    } catch {
      return kept;
    }
  });
  useEffect(() => sessionStorage.setItem(place, JSON.stringify(draft)), [place, draft]);
  return [draft, setDraft];
}
