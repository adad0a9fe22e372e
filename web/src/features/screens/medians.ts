// The medians of a screen's companies as lines of a table: of all of them, and of each group.
import { useMemo } from "react";
import type { Schemas, ScreenList } from "../../api/client";
import { useScreenMedians } from "../../api/queries";
import type { Foot, GroupHead } from "../../components/table/model";
import { inUnit } from "../../headless/format";

interface Medians {
  foot: Foot | undefined;
  groups: GroupHead[] | undefined;
}

/** The medians under their columns; no groups while nothing is grouped. */
export function useMedians(list: ScreenList, columns: Schemas["ColumnInfo"][]): Medians {
  const answer = useScreenMedians(list).data;
  const { group } = list;
  return useMemo(() => {
    if (!answer) return { foot: undefined, groups: undefined };
    const cells = (medians: (number | null)[]) =>
      Object.fromEntries(
        columns.flatMap(({ formula, unit }, i) => {
          const median = medians[i];
          return typeof median === "number" && !NO_MIDDLE.has(unit ?? "")
            ? [[formula, inUnit(median, unit, true)]]
            : [];
        }),
      );
    const groups = answer.groups.map((g) => ({ name: g.name, count: g.companies, cells: cells(g.medians) }));
    return { foot: cells(answer.all), groups: group ? groups : undefined };
  }, [group, answer, columns]);
}

/** Amounts a share are in many currencies, and of flags there is none: their middle says nothing. */
const NO_MIDDLE = new Set(["per_share", "flag"]);
