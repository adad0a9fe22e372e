// The companies left as marks: any two measures to the right and upwards, size and tint by others, the middle company as lines.
import Box from "@mui/material/Box";
import Typography from "@mui/material/Typography";
import { useMemo } from "react";
import type { Measure, Schemas, ScreenList } from "../../../api/client";
import { useScreenMap } from "../../../api/queries";
import { MenuButton } from "../../../components/menu/MenuButton";
import { Failed, LoadingTable } from "../../../components/States";
import { Marks } from "./MapMarks";

type One = Schemas["MapMark"];

/** What is asked of the map: a formula each; none where nothing is shown by it. */
export interface Axes {
  x: string;
  y: string;
  size: string | null;
  tint: string | null;
}

interface Props {
  list: ScreenList;
  /** Formulas that are offered: the columns of the table. */
  columns: { formula: string; label: string }[];
  measures: Measure[];
  axes: Axes;
  setAxes: (to: Axes) => void;
  open: (row: One) => void;
}

/** Measures that are offered beside the columns. */
const OFTEN = [
  "quality",
  "price_to_value",
  "margin_of_safety",
  "pe",
  "roic",
  "market_cap",
  "net_margin",
  "debt_to_equity",
];

export function ScreenMap({ list, columns, measures, axes, setAxes, open }: Props) {
  const map = useScreenMap({ list, ...axes });
  const offered = useMemo(() => {
    const often = OFTEN.flatMap((id) => measures.find((m) => m.id === id) ?? []);
    const all = [...columns, ...often.map((m) => ({ formula: m.id, label: m.label }))];
    return all.filter((a, i) => all.findIndex((b) => b.formula === a.formula) === i);
  }, [columns, measures]);
  const choice = (means: string, key: keyof Axes) => {
    const chosen = axes[key];
    const label = offered.find((o) => o.formula === chosen)?.label ?? chosen ?? "nothing";
    const none = { label: "nothing", chosen: chosen === null, run: () => setAxes({ ...axes, [key]: null }) };
    const items = offered.map((o) => ({
      label: o.label,
      chosen: o.formula === chosen,
      run: () => setAxes({ ...axes, [key]: o.formula }),
    }));
    return (
      <span className="nowrap">
        {means.toLowerCase()}{" "}
        <MenuButton
          means={means}
          label={`${label} ▾`}
          items={key === "size" || key === "tint" ? [none, ...items] : items}
        />
      </span>
    );
  };
  return (
    <Box>
      <Typography variant="body2" component="div" color="textSecondary">
        {choice("To the right", "x")} {choice("Upwards", "y")} {choice("Size", "size")} {choice("Tint", "tint")}
      </Typography>
      {map.error ? (
        <Failed error={map.error} />
      ) : map.data ? (
        <Marks map={map.data} dear={isDear(axes.tint, measures)} open={open} />
      ) : (
        <LoadingTable />
      )}
    </Box>
  );
}

/** Whether more of a measure is worse for a buyer, so that its most stands in clay. */
function isDear(formula: string | null, measures: Measure[]): boolean {
  const id = formula?.split("(")[0]?.trim() ?? "";
  return id === "own_rank" || measures.find((m) => m.id === id)?.better === "lower";
}
