// A value that answers at once and follows into the address a moment later: browsers limit how often an address may
// change, and a dragged handle changes it dozens of times a second.
import { useEffect, useRef, useState } from "react";
import { useSearchParams } from "react-router";

const SETTLED_AFTER_MS = 250;

export function useAddressState(key: string): [string | null, (value: string | null) => void] {
  const [params, setParams] = useSearchParams();
  const inAddress = params.get(key);
  const [value, setValue] = useState(inAddress);
  const written = useRef(inAddress);
  useEffect(() => {
    if (inAddress === written.current) return;
    written.current = inAddress;
    setValue(inAddress);
  }, [inAddress]);
  useEffect(() => {
    if (value === written.current) return;
    const timer = setTimeout(() => {
      written.current = value;
      // From the address itself: two values may settle before the page is drawn again.
      const next = new URLSearchParams(window.location.search);
      if (value === null) next.delete(key);
      else next.set(key, value);
      setParams(next, { replace: true });
    }, SETTLED_AFTER_MS);
    return () => clearTimeout(timer);
  }, [value, key, setParams]);
  return [value, setValue];
}
