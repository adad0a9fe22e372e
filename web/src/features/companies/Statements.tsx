// A statement as a table of its items by year or quarter, in several forms; any row as bars, any figure to be opened.
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Link from "@mui/material/Link";
import Typography from "@mui/material/Typography";
import { parseAsStringLiteral, useQueryStates } from "nuqs";
import { useMemo, useState } from "react";
import type { Schemas } from "../../api/client";
import { useStatement } from "../../api/evidence";
import { Bars } from "../../charts/Bars";
import { Answered, WhenNear } from "../../components/Answered";
import { FigureCell } from "../../components/FigureCell";
import { MenuButton } from "../../components/menu/MenuButton";
import { Table } from "../../components/Table";
import { useAsOf } from "../../headless/asOf";
import { figureAt } from "../../headless/compact";
import { day, scaled } from "../../headless/format";

type Statement = Schemas["Statement"];
type Row = Schemas["StatementRow"];

const PERIODS = ["year", "half", "quarter"] as const;
const PERIOD_NAMES = { year: "Years", half: "Half-years", quarter: "Quarters" };
const NONE = {
  year: "No statements are known on this date.",
  half: "It reports once a year.",
  quarter: "It reports no quarters by themselves.",
};
const FORMS = ["amount", "per_share", "common_size", "growth"] as const;

function formName(form: (typeof FORMS)[number], statement: Statement): string {
  const whole = statement === "balance" ? "total assets" : "revenue";
  return {
    amount: "Amounts",
    per_share: "For one share",
    common_size: `Share of ${whole}`,
    growth: "Growth on the year before",
  }[form];
}

/** One choice for all statements of the page. */
const CHOSEN = {
  period: parseAsStringLiteral(PERIODS).withDefault("year"),
  form: parseAsStringLiteral(FORMS).withDefault("amount"),
};

/** What is drawn of each before anything is chosen. */
const DRAWN: Record<Statement, string> = { income: "revenue", balance: "equity", cash: "free_cash_flow" };

interface Props {
  symbol: string;
  statement: Statement;
  /** The currency of amounts. */
  base: string;
}

export const StatementSection = (p: Props) => (
  <WhenNear rows={10}>
    <Shown {...p} />
  </WhenNear>
);

function Shown({ symbol, statement, base }: Props) {
  const [asOf] = useAsOf();
  const [{ period, form }, choose] = useQueryStates(CHOSEN);
  const answer = useStatement(symbol, { statement, period, form, ...(asOf && { as_of: asOf }) });
  return (
    <>
      <Box sx={{ display: "flex", alignItems: "baseline", ml: -0.6 }}>
        {PERIODS.map((of) => (
          <Button
            key={of}
            aria-pressed={of === period}
            onClick={() => choose({ period: of })}
            sx={of === period ? { color: "text.primary", textDecoration: "underline" } : {}}
          >
            {PERIOD_NAMES[of]}
          </Button>
        ))}
        <MenuButton
          means="Form of the figures"
          label={`${formName(form, statement)} ▾`}
          items={FORMS.map((of) => ({
            label: formName(of, statement),
            chosen: of === form,
            run: () => void choose({ form: of }),
          }))}
        />
      </Box>
      <Answered answer={answer} rows={10}>
        {(table) => <Statements table={table} symbol={symbol} statement={statement} period={period} base={base} />}
      </Answered>
    </>
  );
}

interface TableProps extends Props {
  table: Schemas["StatementTable"];
  period: (typeof PERIODS)[number];
}

function Statements({ table: { columns, rows }, symbol, statement, period, base }: TableProps) {
  const [chosen, setChosen] = useState(DRAWN[statement]);
  const scale = useMemo(() => scaled(amountsOf(rows)), [rows]);
  const drawn = rows.find((r) => r.id === chosen) ?? rows.find((r) => r.total) ?? rows[0];
  if (!drawn) {
    return (
      <Typography variant="body2" color="textSecondary" sx={{ my: 1 }}>
        {NONE[period]}
      </Typography>
    );
  }
  return (
    <>
      <Drawn row={drawn} columns={columns} />
      <Table
        label={NAMES[statement]}
        head={[
          "Item",
          ...columns.map((c) => (
            <span key={c.label} title={toldOf(c)}>
              {c.label}
            </span>
          )),
        ]}
        rows={rows.map((row) => ({
          key: row.id,
          cells: [
            <Link
              key="label"
              component="button"
              onClick={() => setChosen(row.id)}
              aria-pressed={row === drawn}
              className={row.total ? "strong" : undefined}
              sx={{
                color: "inherit",
                font: "inherit",
                textAlign: "left",
                textDecorationLine: row === drawn ? "underline" : "none",
              }}
            >
              {row.label}
            </Link>,
            ...row.formulas.map((formula, i) => (
              <span key={formula} className={row.total ? "strong" : undefined}>
                <FigureCell
                  figure={figureAt(row, i)}
                  unit={row.unit}
                  written={row.unit === "money" ? scale.written : undefined}
                  opens={{ formula, symbol }}
                />
              </span>
            )),
          ],
        }))}
      />
      <Typography variant="caption" color="textSecondary">
        Amounts in {scale.words && `${scale.words} of `}
        {base} at today's rate, restated as filed last. A row's name draws it; a figure opens down to its filing.
      </Typography>
    </>
  );
}

const amountsOf = (rows: Row[]): number[] =>
  rows
    .filter((r) => r.unit === "money")
    .flatMap((r) => r.values)
    .filter((v) => typeof v === "number");

const NAMES: Record<Statement, string> = {
  income: "Income statement",
  balance: "Balance sheet",
  cash: "Cash flow statement",
};

const toldOf = ({ period_end, filed_on }: Schemas["StatementColumn"]): string =>
  `to ${day(period_end)}, filed ${day(filed_on)}`;

function Drawn({ row, columns }: { row: Row; columns: Schemas["StatementColumn"][] }) {
  const bars = useMemo(
    () =>
      columns
        .flatMap(({ label }, i) => {
          const value = row.values[i];
          return typeof value === "number" ? [{ label: label.replace(" ", "\n"), value }] : [];
        })
        .reverse(),
    [row, columns],
  );
  return <Bars label={`${row.label} by period`} name={row.label} unit={row.unit} bars={bars} />;
}
