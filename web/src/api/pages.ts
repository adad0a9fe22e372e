// Rows by page, fetched as they come into view.
import { type QueryKey, useQuery } from "@tanstack/react-query";
import { useCallback, useMemo, useState } from "react";
import type { Page } from "./client";

/** Rows of a page. */
const SIZE = 40;
/** Pages in view at most: a table as tall as two of them, and what is fetched ahead. */
const SLOTS = 4;

interface Answer<T> {
  rows: T[];
  /** How many there are on all pages, where the answer says so. */
  survivors?: number;
}

export interface Pages<T> {
  at: (i: number) => T | undefined;
  want: (first: number, last: number) => void;
  /** Whether they are still those of an earlier question. */
  stale: boolean;
  /** How many there are, as the pages in view say. */
  total: number | undefined;
  /** Why a page in view did not come. */
  error: Error | null;
}

/** While another question's rows come, those of the one before stay where they are. */
export function usePages<T>(key: QueryKey, fetch: (page: Page) => Promise<Answer<T>>): Pages<T> {
  const [{ first, last }, setView] = useState({ first: 0, last: 0 });
  const slot = (of: number) => {
    // The page of the view that falls into this slot, so that a page stays in its slot while it is in view.
    const page = first + ((of - (first % SLOTS) + SLOTS) % SLOTS);
    return { page, queryKey: [...key, page], enabled: page <= last };
  };
  const usePage = ({ page, queryKey, enabled }: ReturnType<typeof slot>) =>
    useQuery({
      queryKey,
      queryFn: ({ signal }) => fetch({ offset: page * SIZE, rows: SIZE, signal }),
      enabled,
      placeholderData: (before: Answer<T> | undefined, query) => (query?.queryKey.at(-1) === page ? before : undefined),
    });
  const slots = [slot(0), slot(1), slot(2), slot(3)] as const;
  const [a, b, c, d] = [usePage(slots[0]), usePage(slots[1]), usePage(slots[2]), usePage(slots[3])];
  const stale = [a, b, c, d].some((q, i) => slots[i]?.enabled && q.isPlaceholderData);
  const error = [a, b, c, d].find((q, i) => slots[i]?.enabled && q.error)?.error ?? null;
  const [pageA, pageB, pageC, pageD] = slots.map((s) => s.page);
  const want = useCallback((from: number, to: number) => {
    const [start, end] = [Math.floor(from / SIZE), Math.floor(Math.max(from, to) / SIZE)];
    setView((old) => (old.first === start && old.last === end ? old : { first: start, last: end }));
  }, []);
  return useMemo(() => {
    const held: [number | undefined, Answer<T> | undefined][] = [
      [pageA, a.data],
      [pageB, b.data],
      [pageC, c.data],
      [pageD, d.data],
    ];
    const at = (i: number) => {
      const page = Math.floor(i / SIZE);
      return held.find(([of]) => of === page)?.[1]?.rows[i % SIZE];
    };
    return { at, want, stale, total: held.find(([, answer]) => answer)?.[1]?.survivors, error };
  }, [a.data, b.data, c.data, d.data, stale, error, pageA, pageB, pageC, pageD, want]);
}
