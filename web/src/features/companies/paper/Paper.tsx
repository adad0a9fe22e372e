// A company on paper: two to four pages of A4 or Letter, black on white, with room for handwriting.
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import GlobalStyles from "@mui/material/GlobalStyles";
import Link from "@mui/material/Link";
import Typography from "@mui/material/Typography";
import { useEffect } from "react";
import { Link as RouterLink, useParams } from "react-router";
import type { Schemas } from "../../../api/client";
import { useNote, useQuarters, useSolvency } from "../../../api/evidence";
import { useCompany } from "../../../api/queries";
import { PriceOverValue } from "../../../components/PriceOverValue";
import { Failed, LoadingPage } from "../../../components/States";
import { useAddress, useAsOf } from "../../../headless/asOf";
import { day, figureText, inUnit, numberOf, plain, price as money, signed } from "../../../headless/format";
import { MarkShape } from "../MarkShape";
import { Lined, PaperTable } from "./parts";

type Page = Schemas["CompanyPage"];

export function Paper() {
  const { symbol = "" } = useParams();
  const [asOf] = useAsOf();
  const page = useCompany(symbol, asOf);
  const solvency = useSolvency(symbol, asOf);
  const quarters = useQuarters(symbol, { count: 8, ...(asOf && { as_of: asOf }) });
  const note = useNote(symbol);
  useEffect(() => {
    document.title = `${page.data?.company.name ?? symbol} – Artemon`;
  }, [page.data, symbol]);
  const error = page.error ?? solvency.error ?? quarters.error ?? note.error;
  if (error) return <Failed error={error} />;
  if (!page.data || !solvency.data || !quarters.data || !note.data) return <LoadingPage />;
  return (
    <Box data-light="" className="paper" sx={SHEET}>
      <GlobalStyles styles={PRINTED} />
      <Tools page={page.data} />
      <Head page={page.data} />
      <Judged page={page.data} />
      <Years page={page.data} />
      <Worth page={page.data} />
      <Tests tests={solvency.data} />
      <Quarters quarters={quarters.data} />
      <Notes note={note.data.own} />
    </Box>
  );
}

const SHEET = { bgcolor: "#fff", color: "#1D2733", maxWidth: 760, mx: "auto", p: 3, fontSize: 12 };

/** The page scrolls here, and on paper nothing of the screen is left. */
const PRINTED = {
  body: { overflow: "auto !important" },
  "@page": { margin: "14mm 14mm 16mm" },
  "@media print": {
    body: { overflow: "visible !important", background: "#fff" },
    ".paper": { maxWidth: "none !important", padding: "0 !important" },
    ".on-screen": { display: "none !important" },
    section: { breakInside: "avoid" },
  },
};

function Tools({ page }: { page: Page }) {
  const address = useAddress();
  return (
    <Box className="on-screen" sx={{ display: "flex", gap: 2, alignItems: "baseline", mb: 2 }}>
      <Link component={RouterLink} to={address(`/companies/${page.company.symbol}`)}>
        Back to the page
      </Link>
      <Box sx={{ flex: 1 }} />
      <Button variant="contained" onClick={() => window.print()}>
        Print
      </Button>
    </Box>
  );
}

function Head({ page }: { page: Page }) {
  const { company: c, value: v } = page;
  const figures: [string, string][] = [
    ["Price", `${shown(v.price, "per_share")} ${page.currency}`],
    ["Value", shown(v.intrinsic_value, "per_share")],
    ["Half between", `${shown(v.value_low, "per_share")} and ${shown(v.value_high, "per_share")}`],
    ["Pay at most", shown(v.buy_below, "per_share")],
    ["Margin of safety", shown(v.margin_of_safety, "percent")],
    ["Verdict", v.verdict],
    ["Quality", shown(v.quality.score, "rank")],
  ];
  return (
    <section>
      <Typography variant="h1" component="h1">
        {c.name}
      </Typography>
      <Typography variant="body2">
        {[c.symbol, page.exchange, c.isin, c.country, c.sector, page.industry].filter(Boolean).join(" · ")}
      </Typography>
      <Typography variant="sentence" sx={{ fontSize: 14 }}>
        {page.description}
      </Typography>
      <Box sx={{ display: "flex", flexWrap: "wrap", columnGap: 3, rowGap: 0.25, my: 1 }}>
        {figures.map(([label, text]) => (
          <span key={label}>
            {label} <b>{text}</b>
          </span>
        ))}
      </Box>
      <Typography variant="caption">
        As known on {day(page.as_of)}, under the assumptions "{v.assumptions}". Amounts of the company in {page.base}, a
        share in {page.currency}.
      </Typography>
    </section>
  );
}

const shown = (figure: Schemas["Figure"], unit: Schemas["Unit"]): string =>
  figureText(figure, unit) ?? figure.reason ?? "–";

/** The questions with their answers, each with room for a mark of one's own. */
function Judged({ page }: { page: Page }) {
  return (
    <section>
      {page.answers.map((a) => (
        <Box
          key={a.id}
          sx={{
            display: "grid",
            gridTemplateColumns: "16px 1fr 74px",
            columnGap: 1,
            py: 0.4,
            borderTop: "1px solid #ddd",
          }}
        >
          <MarkShape mark={a.mark} />
          <span>
            <b>{a.question}</b> {a.sentence}
          </span>
          <Box component="span" sx={{ borderBottom: "1px dotted #999" }} />
        </Box>
      ))}
    </section>
  );
}

/** Fiscal years on paper. */
const YEARS = 11;

function Years({ page }: { page: Page }) {
  const years = page.years.slice(0, YEARS);
  const row = (label: string, key: keyof Schemas["YearRow"], unit: Schemas["Unit"]) => [
    label,
    ...years.map((y) => figureText(y[key] as Schemas["Figure"], unit, true) ?? "–"),
  ];
  return (
    <section>
      <Typography variant="h2">The years</Typography>
      <PaperTable
        label="The years"
        head={["", ...years.map((y) => `${y.fiscal_year}${y.estimated ? " e" : ""}`)]}
        rows={[
          row("Earnings a share", "eps", "per_share"),
          row("Revenue", "revenue", "money"),
          row("Net income", "net_income", "money"),
          row("Net margin %", "net_margin", "percent"),
          row("Return on equity %", "roe", "percent"),
          ...page.year_columns.map((c, i) => [
            c.label,
            ...years.map((y) => figureText(y.of_kind[i] ?? { reason: "" }, c.unit, c.unit !== "percent") ?? "–"),
          ]),
          row("Lowest price", "price_low", "per_share"),
          row("Highest price", "price_high", "per_share"),
          row("P/E at the low", "pe_low", "ratio"),
          row("P/E at the high", "pe_high", "ratio"),
        ]}
      />
    </section>
  );
}

function Worth({ page }: { page: Page }) {
  const { value: v, months } = page;
  const models = v.models.filter((m) => m.mean != null);
  return (
    <section>
      <Typography variant="h2">Price and value</Typography>
      <PriceOverValue
        width={640}
        height={120}
        prices={months.map((m) => m.price)}
        values={months.map((m) => m.value ?? null)}
        low={months.map((m) => m.low ?? null)}
        high={months.map((m) => m.high ?? null)}
        buyBelow={numberOf(v.buy_below)}
        currency={page.currency}
      />
      <Typography variant="body2">
        {months[0] && `From ${day(months[0].date)}. `}
        {page.record.sentence} The price implies growth of {shown(v.implied_growth, "percent")} a year.
      </Typography>
      <Typography variant="body2">{models.map((m) => `${m.label} ${money(m.mean ?? 0)}`).join(" · ")}</Typography>
      <Typography variant="body2">
        {page.ranges
          .filter((r) => r.range)
          .map(
            (r) =>
              `${r.label} ${r.range ? `${inUnit(r.range.today, r.unit)} (${plain(r.range.rank, 0)} of 100, usual ${inUnit(r.range.median, r.unit)})` : ""}`,
          )
          .join(" · ")}
      </Typography>
    </section>
  );
}

const OUTCOME = { pass: "●", fail: "○", open: "–" } as const;

function Tests({ tests }: { tests: Schemas["SolvencyTest"][] }) {
  if (tests.length === 0) return null;
  return (
    <section>
      <Typography variant="h2">Can it pay what it owes?</Typography>
      <Box sx={{ columns: 2, columnGap: 4 }}>
        {tests.map((t) => (
          <Box key={t.label + t.asked} sx={{ display: "flex", gap: 0.75, breakInside: "avoid" }}>
            <span>{OUTCOME[t.outcome]}</span>
            <span style={{ flex: 1 }}>{t.label}</span>
            <b>{figureText(t.figure, t.unit) ?? "–"}</b>
          </Box>
        ))}
      </Box>
    </section>
  );
}

function Quarters({ quarters: q }: { quarters: Schemas["QuartersAnswer"] }) {
  const of = (id: string) => q.reported.rows.find((r) => r.id === id);
  const [eps, surprise, growth] = [of("eps"), of("eps_surprise"), of("eps_growth")];
  const written = (values: unknown[] | undefined, i: number, as: (x: number) => string) => {
    const v = values?.[i];
    return typeof v === "number" ? as(v) : "–";
  };
  if (!eps) return null;
  return (
    <section>
      <Typography variant="h2">Reported and expected</Typography>
      <PaperTable
        label="Reported and expected"
        head={["Earnings a share", ...q.reported.columns.map((c) => c.label), ...q.ahead.map((a) => `${a.label} e`)]}
        rows={[
          [
            "reported, or expected",
            ...q.reported.columns.map((_, i) => written(eps.values, i, money)),
            ...q.ahead.map((a) => (a.eps ? money(a.eps.mean) : "–")),
          ],
          [
            "against what was expected",
            ...q.reported.columns.map((_, i) => written(surprise?.values, i, signed)),
            ...q.ahead.map(() => ""),
          ],
          [
            "against a year before",
            ...q.reported.columns.map((_, i) => written(growth?.values, i, signed)),
            ...q.ahead.map((a) => (a.eps?.growth == null ? "–" : signed(a.eps.growth))),
          ],
        ]}
      />
      {q.target && (
        <Typography variant="body2">
          Price target {money(q.target.mean)}; targets missed by {shown(q.target_error, "percent")} in the middle of
          five years.
        </Typography>
      )}
    </section>
  );
}

/** What is written by hand, with its lines. */
const PROMPTS: [string, number][] = [
  ["What speaks for it", 3],
  ["What speaks against it", 3],
  ["What would prove me wrong", 3],
  ["I would pay, and look at it again on", 1],
];

/** What one wrote, and lines for what one writes by hand. */
function Notes({ note }: { note: Schemas["Note"] }) {
  const fields = [
    ["Management", note.management],
    ["Competition", note.competition],
    ["Outlook", note.outlook],
  ].filter(([, text]) => text?.trim());
  return (
    <Box>
      <Typography variant="h2">My notes</Typography>
      {note.text?.trim() && <Typography sx={{ whiteSpace: "pre-wrap", fontSize: 12 }}>{note.text}</Typography>}
      {fields.map(([label, text]) => (
        <Typography key={label} sx={{ whiteSpace: "pre-wrap", fontSize: 12 }}>
          <b>{label}</b> {text}
        </Typography>
      ))}
      <Lined prompts={PROMPTS} />
    </Box>
  );
}
