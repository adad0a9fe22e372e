// The calendar of income: what each month brought, what is declared, and what last year lets one expect.
import Box from "@mui/material/Box";
import Typography from "@mui/material/Typography";
import { useRef } from "react";
import type { Schemas } from "../../../api/client";
import { Table } from "../../../components/Table";
import { compact, day } from "../../../headless/format";
import { useWidth } from "../../../headless/useWidth";
import { tint } from "../../../theme/theme";

type Results = Schemas["ResultsAnswer"];
type Month = Schemas["IncomeMonth"];

const TALL = 110;
const FOOT = 16;

const SURE = { received: "received", declared: "declared", expected: "as a year ago" } as const;

export function Income({ results }: { results: Results }) {
  const sum = (of: (m: Month) => number, months: Month[]) => months.reduce((all, m) => all + of(m), 0);
  const thisMonth = `${results.as_of.slice(0, 7)}-01`;
  const year = results.income.filter((m) => m.month <= thisMonth).slice(-12);
  const ahead = sum((m) => m.declared + m.expected, results.income);
  const received = sum((m) => m.received, year);
  // What comes next first, then what came last.
  const next = results.income_lines.filter((l) => l.sureness !== "received").reverse();
  const lines = [...next, ...results.income_lines.filter((l) => l.sureness === "received")];
  return (
    <Box component="section" aria-label="Income" sx={{ mt: 3 }}>
      <Typography variant="h2">Income</Typography>
      <Typography variant="sentence" component="p" sx={{ py: 0.5 }}>
        {compact(received)} {results.base} in the last twelve months; {compact(ahead)} declared or to be expected in the
        next twelve, if dividends stay as they were.
      </Typography>
      {received + ahead > 0 && <Months months={results.income} now={thisMonth} />}
      {lines.length > 0 && (
        <Table
          label="Income by day"
          maxHeight={230}
          head={["On", "From", "Account", "Amount", "How sure"]}
          left={[0, 1, 2, 4]}
          rows={lines.map((l, i) => ({
            key: `${l.date} ${l.account} ${l.name} ${i}`,
            quiet: l.sureness === "expected",
            cells: [day(l.date), l.name, l.account, `${compact(l.amount)} ${l.currency}`, SURE[l.sureness]],
          }))}
        />
      )}
    </Box>
  );
}

/** A bar a month: full what was received, open what is declared, pale what is expected. */
function Months({ months, now }: { months: Month[]; now: string }) {
  const box = useRef<HTMLDivElement>(null);
  const width = useWidth(box);
  const most = Math.max(...months.map((m) => m.received + m.declared + m.expected), 1e-9);
  const step = width / months.length;
  const tall = (x: number) => (x / most) * (TALL - FOOT - 14);
  return (
    <Box ref={box} sx={{ my: 1 }}>
      <svg role="img" aria-label="Income by month" width={width} height={TALL} style={{ display: "block" }}>
        {months.map((m, i) => {
          const [received, declared, expected] = [tall(m.received), tall(m.declared), tall(m.expected)];
          const x = i * step + 1;
          const wide = Math.max(step - 3, 1);
          const foot = TALL - FOOT;
          return (
            <g key={m.month} data-hint={said(m)}>
              <rect x={x} y={0} width={wide} height={foot} fill="transparent" />
              <rect x={x} y={foot - received} width={wide} height={received} fill={tint("teal")} />
              <rect
                x={x}
                y={foot - received - declared}
                width={wide}
                height={declared}
                fill="none"
                stroke={tint("teal")}
              />
              <rect
                x={x}
                y={foot - received - declared - expected}
                width={wide}
                height={expected}
                fill={tint("teal")}
                fillOpacity={0.22}
              />
            </g>
          );
        })}
        {months.map((m, i) =>
          m.month.endsWith("-01-01") || m.month === now ? (
            <text
              key={m.month}
              x={i * step + step / 2}
              y={TALL - 3}
              textAnchor="middle"
              fontSize={11}
              fill={tint(m.month === now ? "ink" : "second")}
            >
              {m.month === now ? "now" : m.month.slice(0, 4)}
            </text>
          ) : null,
        )}
      </svg>
    </Box>
  );
}

function said(m: Month): string {
  const parts = [
    m.received > 0 ? `${compact(m.received)} received` : "",
    m.declared > 0 ? `${compact(m.declared)} declared` : "",
    m.expected > 0 ? `${compact(m.expected)} expected` : "",
  ].filter(Boolean);
  return `${m.month.slice(0, 7)}: ${parts.join(", ") || "nothing"}`;
}
