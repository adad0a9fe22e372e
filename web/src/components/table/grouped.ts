// Rows under the names of their groups. A group that is folded shows its medians alone.
import { useMemo, useState } from "react";
import type { GroupHead, Rows } from "./model";

export interface Grouped<T> extends Rows<T> {
  /** The group whose name stands in a line, if one does. */
  head: (i: number) => GroupHead | undefined;
  folded: (name: string) => boolean;
  fold: (name: string) => void;
}

const NONE: ReadonlySet<string> = new Set();

/** Lines of a table: the rows as they are, or with a line for each group above its rows. */
export function useGrouped<T>(rows: Rows<T>, groups: GroupHead[] | undefined): Grouped<T> {
  const [closed, setClosed] = useState(NONE);
  return useMemo((): Grouped<T> => {
    const fold = (name: string) => setClosed((old) => toggled(old, name));
    const folded = (name: string) => closed.has(name);
    if (!groups) return { ...rows, head: () => undefined, folded, fold };
    let [line, before] = [0, 0];
    const placed = groups.map((group) => {
      const place = { group, line, before, shown: closed.has(group.name) ? 0 : group.count };
      line += 1 + place.shown;
      before += group.count;
      return place;
    });
    const around = (i: number) => {
      let found = placed[0];
      for (const place of placed) if (place.line <= i) found = place;
      return found;
    };
    /** The row that stands in a line, or the next one where a name stands. */
    const rowOf = (i: number) => {
      const place = around(i);
      return place ? place.before + Math.max(i - place.line - 1, 0) : 0;
    };
    return {
      ...rows,
      count: line,
      at: (i) => (around(i)?.line === i ? undefined : rows.at(rowOf(i))),
      want: (first, last) => rows.want?.(rowOf(first), Math.min(rowOf(last), Math.max(rows.count - 1, 0))),
      head: (i) => {
        const place = around(i);
        return place && place.line === i ? place.group : undefined;
      },
      folded,
      fold,
    };
  }, [rows, groups, closed]);
}

function toggled(of: ReadonlySet<string>, name: string): ReadonlySet<string> {
  const next = new Set(of);
  if (!next.delete(name)) next.add(name);
  return next;
}
