// Companies that one criterion alone keeps out, and by how much.
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Link from "@mui/material/Link";
import Paper from "@mui/material/Paper";
import Typography from "@mui/material/Typography";
import { memo } from "react";
import { Link as RouterLink } from "react-router";
import type { Criterion, Schemas, Screen, ScreenAnswer, Unit } from "../../api/client";
import { useAddress } from "../../headless/asOf";
import { count, inUnit, numberOf } from "../../headless/format";
import { blocksOf, change, criteriaOf, type Edit, placeOf } from "../../headless/screenState";
import { tint } from "../../theme/theme";

type Miss = Schemas["NearMissAnswer"];

function howFar(miss: Miss, unit: Unit | null | undefined): string {
  if (typeof miss.miss !== "number") return "";
  const size = Math.abs(miss.miss);
  const text = unit === "percent" ? `${(size * 100).toFixed(1)} points` : inUnit(size, unit);
  return `${text} ${miss.miss < 0 ? "short" : "over"}`;
}

/** Near misses that are let in at once. */
const TEN = 10;

type Bounds = Pick<Criterion, "min" | "max">;

/** The bounds that let all of some near misses of one criterion in; those that stay are left out. */
function looseFor(misses: Miss[]): Bounds {
  const [least, most] = (["min", "max"] as const).map((bound) =>
    misses.flatMap((m) => (typeof m.loosened?.[bound] === "number" ? [m.loosened[bound]] : [])),
  ) as [number[], number[]];
  return {
    ...(least.length > 0 && { min: Math.min(...least) }),
    ...(most.length > 0 && { max: Math.max(...most) }),
  };
}

/** The criterion that keeps most of the near misses out on one side, with its nearest ten; none when it keeps out just one. */
function nearestOfOne(all: Miss[]) {
  const sides = new Map<string, Miss[]>();
  for (const m of all.filter((m) => m.loosened)) {
    const side = `${m.criterion} ${typeof m.loosened?.min === "number"}`;
    sides.set(side, [...(sides.get(side) ?? []), m]);
  }
  const misses = [...sides.values()].sort((a, b) => b.length - a.length)[0]?.slice(0, TEN) ?? [];
  const [first] = misses;
  return first && misses.length > 1 ? { label: first.label, misses } : null;
}

export const NearMisses = memo(function NearMisses({
  screen,
  edit,
  answer,
}: {
  screen: Screen;
  edit: Edit;
  answer: ScreenAnswer;
}) {
  const address = useAddress();
  const misses = answer.near_misses.slice(0, answer.survivors > 4 ? 6 : 12);
  if (misses.length === 0) return null;
  const loosen = (misses: Miss[]) => {
    const place = placeOf(screen, misses[0]?.criterion ?? -1);
    if (place) edit((s) => change(s, place, looseFor(misses)));
  };
  const nearest = nearestOfOne(answer.near_misses);
  return (
    <>
      <Typography variant="h3" component="h2" sx={{ mt: 2, mb: 0.75 }}>
        Near misses{" "}
        <span className="light second">
          {count(answer.near_miss_count)} {answer.near_miss_count === 1 ? "company fails" : "companies fail"} just one
          criterion
        </span>
        {nearest && (
          <Button onClick={() => loosen(nearest.misses)} sx={{ ml: 1 }}>
            Loosen “{nearest.label}” to include the nearest {nearest.misses.length}
          </Button>
        )}
      </Typography>
      <Paper>
        {misses.map((m) => {
          const place = placeOf(screen, m.criterion);
          const c = place ? criteriaOf(blocksOf(screen)[place.block] ?? {})[place.at] : undefined;
          const unit = answer.criteria[m.criterion]?.unit;
          const value = numberOf(m.value);
          const bound = m.miss !== null && m.miss !== undefined && m.miss < 0 ? c?.min : c?.max;
          return (
            <Box
              key={m.symbol}
              data-testid="near-miss"
              sx={{
                display: "grid",
                gridTemplateColumns: "minmax(160px, 1.2fr) 2fr 1fr auto",
                alignItems: "center",
                px: 1,
                minHeight: 28,
                borderBottom: `1px solid ${tint("hairline")}`,
                "&:last-child": { borderBottom: 0 },
                fontSize: 13,
              }}
            >
              <Link
                component={RouterLink}
                to={address(`/companies/${m.symbol}`)}
                noWrap
                title={m.name}
                sx={{ color: "inherit", fontWeight: 600, pr: 1 }}
              >
                {m.name}
              </Link>
              <span>
                {m.label} {value === null ? "" : <b>{inUnit(value, unit)}</b>}
                {typeof bound === "number" && `, required ${inUnit(bound, unit)}`}
              </span>
              <span>{howFar(m, unit)}</span>
              {m.loosened ? <Button onClick={() => loosen([m])}>Loosen to include</Button> : <span />}
            </Box>
          );
        })}
      </Paper>
    </>
  );
});
