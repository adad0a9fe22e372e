// Up to six companies as columns, the same questions as rows, the best in each row underlined.
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Link from "@mui/material/Link";
import Typography from "@mui/material/Typography";
import { useQueries } from "@tanstack/react-query";
import { useQueryState } from "nuqs";
import { type ReactNode, useEffect } from "react";
import { Link as RouterLink } from "react-router";
import type { Figure, Schemas, Unit } from "../../api/client";
import { companyQuery, useMeasures } from "../../api/queries";
import { FigureCell } from "../../components/FigureCell";
import { QualityBar } from "../../components/QualityBar";
import { Empty, Failed, Loading } from "../../components/States";
import { ValueSpread } from "../../components/ValueSpread";
import { STEP, texts } from "../../headless/address";
import { useAddress, useAsOf } from "../../headless/asOf";
import { numberOf, plain } from "../../headless/format";
import { verdict } from "../../headless/verdicts";
import { SERIF, tint } from "../../theme/theme";
import { MarkShape } from "../companies/MarkShape";
import { MOST_COMPARED } from "./most";

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
  if (all.some((p) => !p)) return <Loading rows={16} />;
  const drop = (symbol: string) => void name(symbols.filter((s) => s !== symbol));
  return <Columns pages={all as Page[]} drop={drop} />;
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

function Columns({ pages, drop }: { pages: Page[]; drop: (symbol: string) => void }) {
  return (
    <Box sx={{ height: "100%", overflow: "auto", px: 2.5, py: 1.5 }}>
      <Typography variant="h1" sx={{ mb: 1 }}>
        Compare
      </Typography>
      <Box
        role="table"
        aria-label="Companies side by side"
        sx={{
          display: "grid",
          gridTemplateColumns: `190px repeat(${pages.length}, minmax(150px, 1fr))`,
          columnGap: 2,
          fontSize: 13,
          "& > * > *": { borderBottom: `1px solid ${tint("hairline")}`, py: 0.6, minWidth: 0 },
        }}
      >
        <Line label="Company" pages={pages} cell={(p) => <Named page={p} drop={drop} />} />
        <Judgement pages={pages} />
        <Figures pages={pages} />
        {pages[0]?.answers.map((a) => (
          <Line key={a.id} label={a.question} serif pages={pages} cell={(p) => <Answered page={p} id={a.id} />} />
        ))}
      </Box>
      <Typography variant="caption" sx={{ color: tint("second") }}>
        The best of each row is underlined, where more or less is better.
      </Typography>
    </Box>
  );
}

function Named({ page: { company }, drop }: { page: Page; drop: (symbol: string) => void }) {
  const address = useAddress();
  return (
    <>
      <Link
        component={RouterLink}
        to={address(`/companies/${company.symbol}`)}
        sx={{ fontFamily: SERIF, fontSize: 17, fontWeight: 600, color: tint("ink") }}
      >
        {company.name}
      </Link>
      <br />
      <span style={{ color: tint("second") }}>
        {company.symbol} · {company.sector}
      </span>{" "}
      <Button
        onClick={() => drop(company.symbol)}
        aria-label={`Take ${company.name} off`}
        sx={{ minWidth: 0, p: 0, color: tint("faint") }}
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
function Judgement({ pages }: { pages: Page[] }) {
  const qualities = pages.map((p) => p.value.quality.score);
  return (
    <>
      <Line
        label="Verdict"
        pages={pages}
        cell={(p) => {
          const [words, colour] = verdict(p.value.verdict);
          return <b style={{ color: colour }}>{words}</b>;
        }}
      />
      <Line
        label="Price in the spread of value"
        pages={pages}
        cell={(p) => p.value.spread && <ValueSpread spread={p.value.spread} width={146} />}
      />
      <Line
        label="Quality"
        pages={pages}
        cell={(p, i) => (
          <Box sx={{ display: "flex", gap: 1, alignItems: "center" }}>
            <QualityBar pillars={p.value.quality.pillars.map((x) => x.points)} width={90} />
            <Best is={best(qualities, "higher") === i}>
              <Score figure={p.value.quality.score} />
            </Best>
          </Box>
        )}
      />
      {WORTH.map(([label, of, unit, better]) => (
        <Line
          key={label}
          label={label}
          pages={pages}
          cell={(p, i) => (
            <Best
              is={
                best(
                  pages.map((x) => of(x.value)),
                  better,
                ) === i
              }
            >
              <FigureCell figure={of(p.value)} unit={unit} />
              <In unit={unit} page={p} />
            </Best>
          )}
        />
      ))}
    </>
  );
}

function Score({ figure }: { figure: Figure }) {
  const score = numberOf(figure);
  return score === null ? <FigureCell figure={figure} /> : <span>{plain(score, 0)}</span>;
}

/** The currency of an amount. */
function In({ unit, page }: { unit: Unit; page: Page }) {
  if (unit !== "per_share" && unit !== "money") return null;
  return <span style={{ color: tint("faint") }}> {unit === "money" ? page.base : page.currency}</span>;
}

/** The key figures of the company pages; each opens. */
function Figures({ pages }: { pages: Page[] }) {
  const measures = useMeasures().data ?? [];
  const better = (formula: string): Better => measures.find((m) => m.id === formula.split("(")[0])?.better ?? "neither";
  return pages[0]?.figures.map((f) => {
    const figures = pages.map((p) => p.figures.find((x) => x.formula === f.formula)?.figure);
    const first = best(figures, better(f.formula), f.unit);
    return (
      <Line
        key={f.formula}
        label={f.label}
        meaning={f.meaning}
        pages={pages}
        cell={(p, i) => (
          <Best is={first === i}>
            <FigureCell
              figure={figures[i] ?? { reason: "not known" }}
              unit={f.unit}
              opens={{ formula: f.formula, symbol: p.company.symbol }}
            />
            <In unit={f.unit} page={p} />
          </Best>
        )}
      />
    );
  });
}

function Answered({ page, id }: { page: Page; id: string }) {
  const answer = page.answers.find((x) => x.id === id);
  return (
    <Box sx={{ display: "flex", gap: 0.75, alignItems: "baseline" }}>
      {answer && <MarkShape mark={answer.mark} />}
      <span>{answer?.sentence}</span>
    </Box>
  );
}

function Best({ is, children }: { is: boolean; children: ReactNode }) {
  return (
    <span style={is ? { fontWeight: 600, borderBottom: `2px solid ${tint("teal")}` } : undefined}>
      {children}
      {is && <span style={{ position: "absolute", clip: "rect(0 0 0 0)" }}> (best)</span>}
    </span>
  );
}

interface LineProps {
  label: string;
  meaning?: string;
  pages: Page[];
  cell: (page: Page, i: number) => ReactNode;
  serif?: boolean;
}

function Line({ label, meaning, pages, cell, serif }: LineProps) {
  return (
    <Box role="row" sx={{ display: "contents" }}>
      <Box role="rowheader" sx={{ color: tint("second") }}>
        <span data-hint={meaning}>{label}</span>
      </Box>
      {pages.map((p, i) => (
        <Box key={p.company.symbol} role="cell" sx={serif ? { fontFamily: SERIF, fontSize: 14 } : undefined}>
          {cell(p, i)}
        </Box>
      ))}
    </Box>
  );
}
