// What a criterion is made of, opened for a change: its formula, bounds, and whether it counts.
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Link from "@mui/material/Link";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useEffect, useState } from "react";
import { Link as RouterLink } from "react-router";
import type { Criterion, Schemas, Screen, Unit } from "../../api/client";
import { useDistribution } from "../../api/queries";
import { FormulaInput } from "../../components/FormulaInput";
import { type Item, MenuButton } from "../../components/menu/MenuButton";
import { ManyOf } from "../../components/ManyOf";
import { NumberField } from "../../components/NumberField";
import { useAddress, useAsOf } from "../../headless/asOf";
import { inUnit, unitHint } from "../../headless/format";
import { EMPTY } from "../../headless/screenState";
import { tint } from "../../theme/theme";

interface Props {
  criterion: Criterion;
  result: Schemas["CriterionAnswer"] | undefined;
  unit: Unit | null | undefined;
  off: boolean;
  change: (to: Partial<Criterion>) => void;
  remove: () => void;
  /** Where else it can stand. */
  moves: Item[];
}

export function CriterionDetails({ criterion: c, unit, off, change, remove, result, moves }: Props) {
  const typed = unit === "text" || unit === "flag";
  return (
    <Box sx={{ mt: 1, display: "grid", gap: 1 }}>
      <FormulaField formula={c.formula} error={result?.error} change={(formula) => change({ formula })} />
      {!typed && (
        <Box sx={{ display: "flex", gap: 1 }}>
          {(["min", "max"] as const).map((bound) => (
            <NumberField
              key={bound}
              label={bound === "min" ? "At least" : "At most"}
              of={unit}
              unit={unitHint(unit)}
              width="100%"
              whenDone
              value={c[bound]}
              set={(to) => change({ [bound]: to })}
            />
          ))}
        </Box>
      )}
      {unit === "text" && <OneOf formula={c.formula} chosen={c.one_of ?? []} choose={(one_of) => change({ one_of })} />}
      {!typed && unit && <Quantiles formula={c.formula} unit={unit} change={change} />}
      <TextField
        label="Note"
        defaultValue={c.note ?? ""}
        onBlur={(e) => e.target.value !== (c.note ?? "") && change({ note: e.target.value })}
      />
      {result && result.undefined > 0 && <Unknown formula={c.formula} result={result} />}
      <Box sx={{ display: "flex", flexWrap: "wrap", gap: 0.5, ml: -0.5 }}>
        {moves.length > 0 && <MenuButton label="Move ▾" means="Where the criterion stands" items={moves} />}
        <Button onClick={() => change({ enabled: off })}>{off ? "Switch on" : "Switch off"}</Button>
        <Button onClick={() => change({ negate: !c.negate })}>{c.negate ? "Remove NOT" : "Negate"}</Button>
        <Button onClick={remove} sx={{ color: tint("clay") }}>
          Remove
        </Button>
      </Box>
    </Box>
  );
}

function OneOf({ formula, ...p }: { formula: string; chosen: string[]; choose: (to: string[]) => void }) {
  const [asOf] = useAsOf();
  const all = useDistribution(formula, asOf).data?.counts ?? {};
  return <ManyOf label="One of" all={all} {...p} />;
}

/** Shares of all companies at which a bound is often set. */
const SHARES = ["tenth", "quarter", "half", "quarter", "tenth"] as const;

/** Of a bound at such a share. */
const DIGITS = 3;

function Quantiles({ formula, unit, change }: { formula: string; unit: Unit; change: Props["change"] }) {
  const [asOf] = useAsOf();
  const points = useDistribution(formula, asOf).data?.percentiles;
  if (!points) return null;
  const items = SHARES.flatMap((share, i) => {
    if (points[i] === undefined) return [];
    const point = Number(points[i].toPrecision(DIGITS));
    const low = i <= 2;
    const side = share === "half" ? "lower" : low ? "lowest" : "highest";
    return {
      label: `the ${side} ${share}: ${low ? "at most" : "at least"} ${inUnit(point, unit)}`,
      run: () => change(low ? { min: null, max: point } : { min: point, max: null }),
    };
  });
  return (
    <Box sx={{ ml: -0.5 }}>
      <MenuButton label="Bound at ▾" means="A bound at a share of all companies" items={items} />
    </Box>
  );
}

function Unknown({ formula, result }: { formula: string; result: Schemas["CriterionAnswer"] }) {
  const address = useAddress();
  const reasons = Object.entries(result.undefined_why).map(([reason, n]) => `${n} ${reason}`);
  const screen: Screen = {
    ...EMPTY,
    name: "Without data",
    blocks: [{ need: "all", criteria: [{ formula: `not defined(${formula})` }] }],
  };
  return (
    <Typography variant="caption" color="textSecondary">
      {reasons.join("; ")}.{" "}
      <Link component={RouterLink} to={address(`/screens?screen=${encodeURIComponent(JSON.stringify(screen))}`)}>
        Show them
      </Link>
    </Typography>
  );
}

function FormulaField({
  formula,
  error,
  change,
}: {
  formula: string;
  error: Schemas["FormulaError"] | null | undefined;
  change: (f: string) => void;
}) {
  const [text, setText] = useState(formula);
  useEffect(() => setText(formula), [formula]);
  const take = (text: string) => text.trim() && text !== formula && change(text.trim());
  return <FormulaInput value={text} change={setText} take={take} error={text === formula ? error : null} />;
}
