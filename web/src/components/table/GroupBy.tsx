// Chooses by what the rows of a table are grouped.
import { parseAsStringLiteral, useQueryState } from "nuqs";
import type { Schemas } from "../../api/client";
import { useActions } from "../../headless/actions";
import { MenuButton } from "../menu/MenuButton";

type Grouping = Schemas["Grouping"];

const GROUPINGS: [Grouping, string][] = [
  ["sector", "sector"],
  ["industry", "industry"],
  ["country", "country"],
];

/** In the address. */
export const GROUPED_BY = parseAsStringLiteral(GROUPINGS.map(([id]) => id));

/** By what rows are grouped, kept in the address. */
export const useGroupBy = (): [Grouping | null, (to: Grouping | null) => void] => {
  const [group, set] = useQueryState("group", GROUPED_BY);
  return [group, (to) => void set(to)];
};

export function GroupBy({ group, set }: { group: Grouping | null; set: (to: Grouping | null) => void }) {
  const items = [
    { label: "No groups", chosen: group === null, run: () => set(null) },
    ...GROUPINGS.map(([id, words]) => ({ label: `Group by ${words}`, chosen: group === id, run: () => set(id) })),
  ];
  useActions(items.filter((i) => !i.chosen));
  return <MenuButton label={group ? `By ${group} ▾` : "Group ▾"} means="Groups" items={items} />;
}
