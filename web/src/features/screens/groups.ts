// The groups of a screen's companies as lines of a table.
import { useMemo } from "react";
import type { Schemas, ScreenList } from "../../api/client";
import { useScreenGroups } from "../../api/queries";
import type { GroupHead } from "../../components/table/model";
import { inUnit } from "../../headless/format";

/** The medians of each group under their columns; none while nothing is grouped. */
export function useGroups(list: ScreenList, columns: Schemas["ColumnInfo"][]): GroupHead[] | undefined {
  const answer = useScreenGroups(list).data;
  const { group } = list;
  return useMemo(() => {
    if (!group || !answer) return undefined;
    const cells = (medians: (number | null)[]) =>
      Object.fromEntries(
        columns.flatMap(({ formula, unit }, i) => {
          const median = medians[i];
          // Amounts a share are in many currencies: their middle says nothing.
          return typeof median === "number" && unit !== "per_share" ? [[formula, inUnit(median, unit, true)]] : [];
        }),
      );
    return answer.map((g) => ({ name: g.name, count: g.companies, cells: cells(g.medians) }));
  }, [group, answer, columns]);
}
