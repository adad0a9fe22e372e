// Up to six companies as columns, the same questions as rows, the best in each row underlined.
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Link from "@mui/material/Link";
import Typography from "@mui/material/Typography";
import visuallyHidden from "@mui/utils/visuallyHidden";
import { useQueries } from "@tanstack/react-query";
import { useQueryState } from "nuqs";
import { type ReactNode, useEffect, useMemo } from "react";
import { Link as RouterLink } from "react-router";
import type { Figure, Measure, Schemas, Unit } from "../../api/client";
import { companyQuery, useMeasures } from "../../api/queries";
import { FigureCell } from "../../components/FigureCell";
import { QualityBar } from "../../components/QualityBar";
import { Empty, Failed, LoadingTable } from "../../components/States";
import { DataTable } from "../../components/table/DataTable";
import type { Column } from "../../components/table/model";
import { ROW } from "../../components/table/surface";
import { spreadInWords, ValueSpread } from "../../components/ValueSpread";
import { STEP, texts } from "../../headless/address";
import { useAddress, useAsOf } from "../../headless/asOf";
import { numberOf, plain } from "../../headless/format";
import { verdict } from "../../headless/verdicts";
import { SERIF, tint } from "../../theme/theme";
import { MarkShape } from "../companies/MarkShape";
import { MOST_COMPARED } from "./most";
import { hasSmallChart, SMALL, SmallChart } from "./SmallCharts";

type Page = Schemas["CompanyPage"];
type Better = Schemas["Better"];

const NAMED = texts.withOptions(STEP).withDefault([]);

export function Compare() {
  const [named, name] = useQueryState("symbols", NAMED);
  const [asOf] = useAsOf();
  const symbols = named.slice(0, MOST_COMPARED);
  const pages = useQueries({
    queries: symbols.map((symbol) => companyQuery(symbol, asOf)),
  });
  useEffect(() => {
    document.title = "Compare – Artemon";
  }, []);
  const failed = pages.find((p) => p.error);
  if (symbols.length === 0) {
    return (
      <Empty title="No companies to compare yet">
        Mark two to six companies with x, anywhere in Artemon, and choose Compare in the tray below.
      </Empty>
    );
  }
  if (failed?.error) return <Failed error={failed.error} retry={() => failed.refetch()} />;
  const all = pages.map((p) => p.data);
  if (all.some((p) => !p)) return <LoadingTable rows={20} />;
  const drop = (symbol: string) => void name(symbols.filter((s) => s !== symbol));
  return <SideBySide pages={all as Page[]} drop={drop} />;
}

/** Which of the figures is best; nobody is when fewer than two are known, or none is better. A multiple below zero says
 * that there is nothing to pay for, not that it is cheap. */
function best(figures: (Figure | undefined)[], better: Better, unit?: Unit): number {
  const meant = (n: number | null) => (unit === "ratio" && better === "lower" && n !== null && n <= 0 ? null : n);
  const known = figures.map((f) => meant(numberOf(f)));
  const numbers = known.filter((n) => n !== null);
  if (better === "neither" || numbers.length < 2 || new Set(numbers).size === 1) return -1;
  return known.indexOf(better === "higher" ? Math.max(...numbers) : Math.min(...numbers));
}

/** A question, with the answer of each company. */
interface Row {
  label: string;
  meaning?: string;
  cell: (page: Page, i: number) => ReactNode;
  text: (page: Page) => string;
  /** Pixels, where it takes several lines. */
  height?: number;
}

const WIDE = 190;
const SENTENCE = 104;

function SideBySide({ pages, drop }: { pages: Page[]; drop: (symbol: string) => void }) {
  const measures = useMeasures().data;
  const rows = useMemo(() => {
    const all = [named(drop), ...judgement(pages), ...figures(pages, measures ?? []), ...answers(pages)];
    return { count: all.length, at: (i: number) => all[i] };
  }, [pages, measures, drop]);
  const columns = useMemo(() => [questions, ...pages.map((page, i) => company(page, i, drop))], [pages, drop]);
  return (
    <Box sx={{ height: "100%", display: "flex", flexDirection: "column", px: 2.5, py: 1.5 }}>
      <Typography variant="h1" sx={{ mb: 1 }}>
        Compare
      </Typography>
      <DataTable
        name="compare"
        label="Companies side by side"
        columns={columns}
        rows={rows}
        tall={(row) => row.height ?? ROW}
        empty={null}
        sx={{ flex: 1 }}
      />
      <Typography variant="caption" color="textSecondary" sx={{ mt: 0.5 }}>
        The best of each row is underlined, where more or less is better.
      </Typography>
    </Box>
  );
}

const questions: Column<Row> = {
  id: "question",
  label: "",
  meaning: "What is compared",
  width: WIDE,
  cell: (row) => <span className="faint">{row.label}</span>,
  text: (row) => row.label,
  tip: (row) => row.meaning,
};

const company = (page: Page, i: number, drop: (symbol: string) => void): Column<Row> => ({
  id: page.company.symbol,
  label: page.company.name,
  width: WIDE,
  grows: true,
  cell: (row) => row.cell(page, i),
  text: (row) => row.text(page),
  actions: [{ label: "Take off", run: () => drop(page.company.symbol) }],
});

const named = (drop: (symbol: string) => void): Row => ({
  label: "Company",
  cell: (page) => <Named page={page} drop={drop} />,
  text: (page) => page.company.name,
});

function Named({ page: { company }, drop }: { page: Page; drop: (symbol: string) => void }) {
  const address = useAddress();
  return (
    <>
      <Link component={RouterLink} to={address(`/companies/${company.symbol}`)}>
        {company.symbol}
      </Link>{" "}
      <span className="faint">{company.sector}</span>{" "}
      <Button
        onClick={() => drop(company.symbol)}
        aria-label={`Take ${company.name} off`}
        sx={{ minWidth: 24, p: 0, color: tint("faint") }}
      >
        ×
      </Button>
    </>
  );
}

const WORTH: [string, (v: Schemas["ValueAnswer"]) => Figure, Unit, Better][] = [
  ["Intrinsic value", (v) => v.intrinsic_value, "per_share", "neither"],
  ["Pay at most", (v) => v.buy_below, "per_share", "neither"],
  ["Margin of safety", (v) => v.margin_of_safety, "percent", "higher"],
  ["Agreement of the valuations", (v) => v.value_agreement, "percent", "higher"],
  ["Growth that the price implies", (v) => v.implied_growth, "percent", "lower"],
];

/** Verdict, spread, quality and what follows from the value. */
function judgement(pages: Page[]): Row[] {
  const first = best(
    pages.map((p) => p.value.quality.score),
    "higher",
  );
  return [
    {
      label: "Verdict",
      cell: (p) => {
        const [words, colour] = verdict(p.value.verdict);
        return (
          <Box component="b" sx={{ color: colour }}>
            {words}
          </Box>
        );
      },
      text: (p) => verdict(p.value.verdict)[0],
    },
    {
      label: "Price in the spread of value",
      cell: (p) => p.value.spread && <ValueSpread spread={p.value.spread} width={146} />,
      text: (p) => (p.value.spread ? spreadInWords(p.value.spread) : ""),
    },
    {
      label: "Quality",
      cell: (p, i) => (
        <span className="quality">
          <QualityBar pillars={p.value.quality.pillars.map((x) => x.points)} width={90} />
          <Best is={first === i}>
            <Score figure={p.value.quality.score} />
          </Best>
        </span>
      ),
      text: (p) => String(p.value.quality.score.value ?? ""),
    },
    ...WORTH.map(([label, of, unit, better]): Row => {
      const top = best(
        pages.map((x) => of(x.value)),
        better,
      );
      return {
        label,
        cell: (p, i) => (
          <Best is={top === i}>
            <FigureCell figure={of(p.value)} unit={unit} />
            <In unit={unit} page={p} />
          </Best>
        ),
        text: (p) => String(of(p.value).value ?? ""),
      };
    }),
  ];
}

function Score({ figure }: { figure: Figure }) {
  const score = numberOf(figure);
  return score === null ? <FigureCell figure={figure} /> : <span>{plain(score, 0)}</span>;
}

/** The currency of an amount. */
function In({ unit, page }: { unit: Unit; page: Page }) {
  if (unit !== "per_share" && unit !== "money") return null;
  return <span className="faint"> {unit === "money" ? page.base : page.currency}</span>;
}

/** The key figures of the company pages; each opens. */
function figures(pages: Page[], measures: Measure[]): Row[] {
  const better = (formula: string): Better => measures.find((m) => m.id === formula.split("(")[0])?.better ?? "neither";
  const of = (page: Page, formula: string) => page.figures.find((x) => x.formula === formula)?.figure;
  return (pages[0]?.figures ?? []).map((f) => {
    const first = best(
      pages.map((p) => of(p, f.formula)),
      better(f.formula),
      f.unit,
    );
    return {
      label: f.label,
      meaning: f.meaning,
      cell: (p, i) => (
        <Best is={first === i}>
          <FigureCell
            figure={of(p, f.formula) ?? { reason: "not known" }}
            unit={f.unit}
            opens={{ formula: f.formula, symbol: p.company.symbol }}
          />
          <In unit={f.unit} page={p} />
        </Best>
      ),
      text: (p) => String(of(p, f.formula)?.value ?? ""),
    };
  });
}

/** The questions, with a sentence each. */
function answers(pages: Page[]): Row[] {
  const of = (page: Page, id: string) => page.answers.find((x) => x.id === id);
  return (pages[0]?.answers ?? []).map(({ id, question }) => ({
    label: question,
    height: SENTENCE + (hasSmallChart(id) ? SMALL + 6 : 0),
    cell: (p) => {
      const answer = of(p, id);
      return (
        <Box>
          <Box sx={ANSWER}>
            {answer && <MarkShape mark={answer.mark} />}
            <span>{answer?.sentence}</span>
          </Box>
          <SmallChart question={id} page={p} />
        </Box>
      );
    },
    text: (p) => of(p, id)?.sentence ?? "",
  }));
}

const ANSWER = {
  display: "flex",
  gap: 0.75,
  alignItems: "baseline",
  fontFamily: SERIF,
  fontSize: 14,
  lineHeight: 1.3,
  mb: 0.5,
  // What is longer is read on the page.
  maxHeight: SENTENCE - 8,
  overflow: "hidden",
};

function Best({ is, children }: { is: boolean; children: ReactNode }) {
  if (!is) return children;
  return (
    <Box component="span" sx={{ fontWeight: 600, borderBottom: `2px solid ${tint("teal")}` }}>
      {children}
      <Box component="span" sx={visuallyHidden}>
        {" "}
        (best)
      </Box>
    </Box>
  );
}
