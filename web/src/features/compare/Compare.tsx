// Up to six companies as columns, the same questions as rows, the best in each row underlined.
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Link from "@mui/material/Link";
import Tooltip from "@mui/material/Tooltip";
import Typography from "@mui/material/Typography";
import { useQueries } from "@tanstack/react-query";
import { type ReactNode, useEffect } from "react";
import { Link as RouterLink, useSearchParams } from "react-router";
import { api, type Figure, type Schemas, type Unit } from "../../api/client";
import { useMeasures } from "../../api/queries";
import { FigureCell } from "../../components/FigureCell";
import { QualityBar } from "../../components/QualityBar";
import { Empty, Failed, Loading } from "../../components/States";
import { ValueSpread } from "../../components/ValueSpread";
import { useAddress, useAsOf } from "../../headless/asOf";
import { numberOf, plain } from "../../headless/format";
import { verdict } from "../../headless/verdicts";
import { SERIF, tint } from "../../theme/theme";
import { MarkShape } from "../companies/MarkShape";
import { MOST_COMPARED } from "./most";

type Page = Schemas["CompanyPage"];
type Better = "higher" | "lower" | "neither";

export function Compare() {
  const [params, setParams] = useSearchParams();
  const [asOf] = useAsOf();
  const symbols = (params.get("symbols") ?? "").split(",").filter(Boolean).slice(0, MOST_COMPARED);
  const pages = useQueries({
    queries: symbols.map((symbol) => ({
      queryKey: ["company", symbol, asOf],
      queryFn: () => api.company(symbol, asOf),
    })),
  });
  useEffect(() => {
    document.title = "Compare – Artemon";
  }, []);
  const failed = pages.find((p) => p.error);
  if (symbols.length === 0) {
    return (
      <Empty title="Nobody to compare yet">
        Mark two to six companies with x, anywhere in Artemon, and choose Compare in the tray below.
      </Empty>
    );
  }
  if (failed?.error) return <Failed error={failed.error} retry={() => failed.refetch()} />;
  const all = pages.map((p) => p.data);
  if (all.some((p) => !p)) return <Loading rows={16} />;
  const drop = (symbol: string) =>
    setParams((old) => {
      const next = new URLSearchParams(old);
      next.set("symbols", symbols.filter((s) => s !== symbol).join());
      return next;
    });
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
  const measures = useMeasures().data ?? [];
  const address = useAddress();
  const better = (formula: string): Better => {
    const found = measures.find((m) => m.id === formula.split("(")[0])?.better;
    return found === "higher" || found === "lower" ? found : "neither";
  };
  const first = pages[0];
  if (!first) return null;
  const worth: [string, (v: Schemas["ValueAnswer"]) => Figure, Unit, Better][] = [
    ["Intrinsic value", (v) => v.intrinsic_value, "per_share", "neither"],
    ["Pay at most", (v) => v.buy_below, "per_share", "neither"],
    ["Margin of safety", (v) => v.margin_of_safety, "percent", "higher"],
    ["Agreement of the valuations", (v) => v.value_agreement, "percent", "higher"],
    ["Growth that the price implies", (v) => v.implied_growth, "percent", "lower"],
  ];
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
          "& > *": { borderBottom: `1px solid ${tint("hairline")}`, py: 0.6, minWidth: 0 },
        }}
      >
        <Line
          label=""
          cells={pages.map((p) => (
            <Box key={p.company.symbol}>
              <Link
                component={RouterLink}
                to={address(`/companies/${p.company.symbol}`)}
                sx={{ fontFamily: SERIF, fontSize: 17, fontWeight: 600, color: tint("ink") }}
              >
                {p.company.name}
              </Link>
              <br />
              <span style={{ color: tint("second") }}>
                {p.company.symbol} · {p.company.sector}
              </span>{" "}
              <Button
                onClick={() => drop(p.company.symbol)}
                aria-label={`Take ${p.company.name} off`}
                sx={{ minWidth: 0, p: 0, color: tint("faint") }}
              >
                ×
              </Button>
            </Box>
          ))}
        />
        <Line
          label="Verdict"
          cells={pages.map((p) => {
            const [words, colour] = verdict(p.value.verdict);
            return (
              <b key={p.company.symbol} style={{ color: colour }}>
                {words}
              </b>
            );
          })}
        />
        <Line
          label="Price in the spread of value"
          cells={pages.map((p) => (
            <Box key={p.company.symbol}>{p.value.spread && <ValueSpread spread={p.value.spread} width={146} />}</Box>
          ))}
        />
        <Line
          label="Quality"
          cells={pages.map((p, i) => (
            <Box key={p.company.symbol} sx={{ display: "flex", gap: 1, alignItems: "center" }}>
              <QualityBar pillars={p.value.quality.pillars.map((x) => x.points)} width={90} />
              <Best
                is={
                  best(
                    pages.map((x) => x.value.quality.score),
                    "higher",
                  ) === i
                }
              >
                {numberOf(p.value.quality.score) === null ? (
                  <FigureCell figure={p.value.quality.score} />
                ) : (
                  plain(numberOf(p.value.quality.score) ?? 0, 0)
                )}
              </Best>
            </Box>
          ))}
        />
        {worth.map(([label, of, unit, direction]) => {
          const figures = pages.map((p) => of(p.value));
          return (
            <Line
              key={label}
              label={label}
              cells={pages.map((p, i) => (
                <Best key={p.company.symbol} is={best(figures, direction) === i}>
                  <FigureCell figure={of(p.value)} unit={unit} />
                  {unit === "per_share" && <span style={{ color: tint("faint") }}> {p.value.currency}</span>}
                </Best>
              ))}
            />
          );
        })}
        {first.figures.map((f) => {
          const figures = pages.map((p) => p.figures.find((x) => x.formula === f.formula)?.figure);
          return (
            <Line
              key={f.formula}
              label={f.label}
              meaning={f.meaning}
              cells={pages.map((p, i) => (
                <Best key={p.company.symbol} is={best(figures, better(f.formula), f.unit) === i}>
                  <FigureCell
                    figure={figures[i] ?? { reason: "not known" }}
                    unit={f.unit}
                    opens={{ formula: f.formula, symbol: p.company.symbol }}
                  />
                  {f.unit === "per_share" && <span style={{ color: tint("faint") }}> {p.currency}</span>}
                  {f.unit === "money" && <span style={{ color: tint("faint") }}> {p.base}</span>}
                </Best>
              ))}
            />
          );
        })}
        {first.answers.map((a) => (
          <Line
            key={a.id}
            label={a.question}
            serif
            cells={pages.map((p) => {
              const answer = p.answers.find((x) => x.id === a.id);
              return (
                <Box key={p.company.symbol} sx={{ display: "flex", gap: 0.75, alignItems: "baseline" }}>
                  {answer && <MarkShape mark={answer.mark} />}
                  <span>{answer?.sentence}</span>
                </Box>
              );
            })}
          />
        ))}
      </Box>
      <Typography variant="caption" sx={{ color: tint("second") }}>
        The best of each row is underlined, where more or less is better.
      </Typography>
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

function Line({
  label,
  meaning,
  cells,
  serif,
}: {
  label: string;
  meaning?: string;
  cells: ReactNode[];
  serif?: boolean;
}) {
  return (
    <>
      <Box role="rowheader" sx={{ color: tint("second") }}>
        <Tooltip title={meaning ?? ""}>
          <span>{label}</span>
        </Tooltip>
      </Box>
      {cells.map((cell, i) => (
        <Box key={i} role="cell" sx={serif ? { fontFamily: SERIF, fontSize: 14 } : undefined}>
          {cell}
        </Box>
      ))}
    </>
  );
}
