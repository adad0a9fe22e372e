// Where the cash goes: a pair of piles a year, what came in on the left and what was done with it on the right, areas in proportion.
import Box from "@mui/material/Box";
import Typography from "@mui/material/Typography";
import { useMemo, useRef } from "react";
import type { Schemas } from "../../../api/client";
import { useCash } from "../../../api/evidence";
import { Answered } from "../../../components/Answered";
import { useAsOf } from "../../../headless/asOf";
import { scaled } from "../../../headless/format";
import { useOpenFigure } from "../../../headless/openedFigure";
import { useWidth } from "../../../headless/useWidth";
import { tint } from "../../../theme/theme";

type Row = Schemas["StatementRow"];
type Sort = keyof typeof LOOKS;

/** How each is drawn, and what it is called where it comes in and where it goes out. */
const LOOKS = {
  operations: { fill: tint("bar"), comes: "from operations", goes: "lost in operations" },
  investment: { fill: tint("history"), comes: "sold", goes: "investment" },
  dividends: { fill: tint("teal"), comes: "", goes: "dividends" },
  buybacks: { fill: tint("tealWash"), comes: "shares issued", goes: "shares bought back" },
  debt: { fill: tint("clay"), comes: "borrowed", goes: "debt repaid" },
  kept: { fill: "none", comes: "taken from what was kept", goes: "kept" },
} as const;

const ORDER = Object.keys(LOOKS) as Sort[];

interface Pile {
  sort: Sort;
  amount: number;
  formula: string;
}

interface Year {
  label: string;
  comes: Pile[];
  goes: Pile[];
}

export function CashPicture({ symbol, base }: { symbol: string; base: string }) {
  const [asOf] = useAsOf();
  return (
    <Answered answer={useCash(symbol, asOf)} rows={6}>
      {(table) => <Drawn table={table} symbol={symbol} base={base} />}
    </Answered>
  );
}

/** The years that are known, oldest first. */
function yearsOf({ columns, rows }: Schemas["StatementTable"]): Year[] {
  const row = (sort: Sort): Row | undefined => rows.find((r) => r.id === sort);
  const year = (label: string, i: number): Year => {
    const piles = ORDER.flatMap((sort): Pile[] => {
      const amount = row(sort)?.values[i];
      // What was kept stands among the uses; where more went out than came in it is a source.
      const signed = typeof amount === "number" ? (sort === "kept" ? -amount : amount) : 0;
      return signed === 0 ? [] : [{ sort, amount: signed, formula: row(sort)?.formulas[i] ?? "" }];
    });
    return { label, comes: piles.filter((p) => p.amount > 0), goes: piles.filter((p) => p.amount < 0) };
  };
  return columns
    .map((c, i) => year(c.label, i))
    .filter((y) => y.comes.length + y.goes.length > 0)
    .reverse();
}

const HEIGHT = 190;
const GROUND = 22;

const total = (piles: Pile[]): number => piles.reduce((sum, p) => sum + Math.abs(p.amount), 0);

function Drawn({ table, symbol, base }: { table: Schemas["StatementTable"]; symbol: string; base: string }) {
  const box = useRef<HTMLDivElement>(null);
  const width = useWidth(box);
  const years = useMemo(() => yearsOf(table), [table]);
  const scale = useMemo(() => scaled(years.flatMap((y) => [...y.comes, ...y.goes].map((p) => p.amount))), [years]);
  const most = Math.max(...years.flatMap((y) => [total(y.comes), total(y.goes)]), 1);
  if (years.length === 0) {
    return (
      <Typography variant="body2" color="textSecondary">
        No year with a cash flow statement is known.
      </Typography>
    );
  }
  const column = Math.min(width / years.length, 110);
  const told = `Cash of ${years.length} years, in ${scale.words} of ${base}`;
  return (
    <Box ref={box} sx={{ my: 1 }}>
      {/* biome-ignore lint/a11y/useSemanticElements: a fieldset cannot be a drawing */}
      <svg width={width} height={HEIGHT + GROUND} role="group" aria-label={told} style={{ display: "block" }}>
        <defs>
          <pattern id="drawn-down" width={5} height={5} patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
            <rect width={1.6} height={5} fill={tint("clay")} />
          </pattern>
        </defs>
        {years.map((year, i) => (
          <g key={year.label} transform={`translate(${i * column} 0)`}>
            <Piles
              piles={year.comes}
              at={4}
              width={column * 0.4}
              most={most}
              symbol={symbol}
              scale={scale}
              side="comes"
            />
            <Piles
              piles={year.goes}
              at={6 + column * 0.4}
              width={column * 0.4}
              most={most}
              symbol={symbol}
              scale={scale}
              side="goes"
            />
            <text x={5 + column * 0.4} y={HEIGHT + 16} textAnchor="middle" fontSize={12} fill={tint("second")}>
              {year.label}
            </text>
          </g>
        ))}
        <line x1={0} x2={column * years.length} y1={HEIGHT} y2={HEIGHT} stroke={tint("history")} />
      </svg>
      <Legend years={years} />
      <Typography variant="caption" color="textSecondary">
        On the left what came in, on the right what was done with it, in proportion over all years; in {base} at today's
        rate.
      </Typography>
    </Box>
  );
}

interface PilesProps {
  piles: Pile[];
  at: number;
  width: number;
  most: number;
  symbol: string;
  scale: ReturnType<typeof scaled>;
  side: "comes" | "goes";
}

/** Piled up from the ground. */
function Piles({ piles, at, width, most, symbol, scale, side }: PilesProps) {
  const open = useOpenFigure();
  let top = HEIGHT;
  return piles.map(({ sort, amount, formula }) => {
    const tall = (Math.abs(amount) / most) * (HEIGHT - 6);
    top -= tall;
    const { fill, ...called } = LOOKS[sort];
    const words = `${called[side]} ${scale.written(Math.abs(amount))} ${scale.words}`;
    const worn = sort === "kept" && side === "comes" ? "url(#drawn-down)" : fill;
    return (
      // biome-ignore lint/a11y/useSemanticElements: a button cannot stand in a drawing
      <rect
        key={sort}
        role="button"
        tabIndex={0}
        aria-label={`${words}, open`}
        data-hint={words}
        x={at}
        y={top}
        width={width}
        height={Math.max(tall - 1, 0.5)}
        fill={worn}
        stroke={sort === "kept" ? tint(side === "comes" ? "clay" : "history") : "none"}
        strokeDasharray={sort === "kept" ? "3 2" : undefined}
        style={{ cursor: "pointer" }}
        onClick={() => open({ formula, symbol })}
        onKeyDown={(e) => e.key === "Enter" && open({ formula, symbol })}
      />
    );
  });
}

/** What occurs in the years, with its look. */
function Legend({ years }: { years: Year[] }) {
  const words = (side: "comes" | "goes") =>
    ORDER.filter((sort) => years.some((y) => y[side].some((p) => p.sort === sort))).map((sort) => ({
      key: `${side}${sort}`,
      says: LOOKS[sort][side],
      fill: sort === "kept" && side === "comes" ? "url(#drawn-down)" : LOOKS[sort].fill,
      edge: sort === "kept" ? tint(side === "comes" ? "clay" : "history") : "none",
    }));
  return (
    <Box
      sx={{
        display: "flex",
        flexWrap: "wrap",
        columnGap: 2,
        rowGap: 0.25,
        fontSize: 12,
        color: tint("second"),
        mt: 0.5,
      }}
    >
      {[...words("comes"), ...words("goes")].map(({ key, says, fill, edge }) => (
        <Box key={key} component="span" sx={{ display: "inline-flex", alignItems: "center", gap: 0.6 }}>
          <svg width={11} height={11} aria-hidden="true">
            <rect x={0.5} y={0.5} width={10} height={10} fill={fill} stroke={edge} strokeDasharray="3 2" />
          </svg>
          {says}
        </Box>
      ))}
    </Box>
  );
}
