// The formula language: how formulas are put together, and every function with an example that opens where it runs.
import Box from "@mui/material/Box";
import Link from "@mui/material/Link";
import Typography from "@mui/material/Typography";
import type { ReactNode } from "react";
import { Link as RouterLink } from "react-router";
import type { Schemas } from "../../api/client";
import { useFunctions } from "../../api/queries";
import { Failed, Loading } from "../../components/States";
import { useAddress } from "../../headless/asOf";
import { tint } from "../../theme/theme";

type FunctionInfo = Schemas["FunctionInfo"];

/** Functions that belong together, by how their names begin. */
const GROUPS: { title: string; said: string; begins: string[] }[] = [
  {
    title: "Fiscal years",
    said: "Over the newest fiscal years, each as it was known. x is any formula of statement items, or a measure made of them.",
    begins: ["fy"],
  },
  { title: "Quarters and half-years", said: "As filed, or made of the others.", begins: ["q", "h"] },
  {
    title: "A company against its own past",
    said: "Today against the ends of the months within a window of at least three years.",
    begins: ["own_"],
  },
  { title: "Against others, and against before", said: "", begins: ["rank_in", "median_in", "ago", "change_of"] },
];

const PARTS: { what: ReactNode; examples: string[] }[] = [
  {
    what: "Measures and statement items by their names, with ordinary arithmetic.",
    examples: ["operating_income / revenue"],
  },
  {
    what: "Numbers with suffixes: per cent, thousand, million, billion.",
    examples: ["roe > 12.5 %", "market_cap > 2.5bn"],
  },
  {
    what: "Conditions, joined by and, or, not; a range; one of several.",
    examples: [
      "pe < 15 and not (debt_to_equity > 1)",
      "dividend_yield between 2 % and 6 %",
      'sector in ("Health", "Energy")',
    ],
  },
  { what: "Measures with numbers of their own in brackets.", examples: ["eps_growth(5)", "change(1y)"] },
  {
    what: "A choice, and something in place of what is undefined.",
    examples: ["if(net_margin > 0, pe, pb)", "else(dividend_yield, 0)"],
  },
];

export function LanguagePage() {
  const functions = useFunctions();
  if (functions.error) return <Failed error={functions.error} retry={() => functions.refetch()} />;
  if (!functions.data) return <Loading rows={14} />;
  const all = functions.data;
  const groupOf = (f: FunctionInfo) =>
    GROUPS.find((g) => g.begins.some((b) => f.name === b || f.name.startsWith(b.endsWith("_") ? b : `${b}_`)));
  const rest = all.filter((f) => !groupOf(f));
  return (
    <Box sx={{ maxWidth: 820 }}>
      <Typography variant="h1">The formula language</Typography>
      <Typography variant="sentence" sx={{ mb: 1.5 }}>
        A formula is ordinary arithmetic over measures. What it answers is computed only from what was known on the day,
        and opens down to the filings. Click an example: it opens where it is answered for all companies and for one.
      </Typography>
      {PARTS.map((p) => (
        <Row key={p.examples[0]} left={p.examples.map((e) => <Example key={e} formula={e} />)}>
          {p.what}
        </Row>
      ))}
      <Typography variant="body2" sx={{ my: 1.5 }}>
        From loose to tight: <b>or</b>, <b>and</b>, <b>not</b>, comparisons, + −, * /, the sign, ^. What cannot be
        computed is undefined and says why: it passes through arithmetic, a comparison with it is undefined, and a
        criterion passes only when it is true. Amounts of a whole company are in your base currency, amounts a share in
        the currency of the listing.
      </Typography>
      {GROUPS.map((g) => (
        <Functions key={g.title} title={g.title} said={g.said} functions={all.filter((f) => groupOf(f) === g)} />
      ))}
      <Functions title="Numbers and choices" said="" functions={rest} />
    </Box>
  );
}

function Functions({ title, said, functions }: { title: string; said: string; functions: FunctionInfo[] }) {
  return (
    <Box component="section" sx={{ mt: 2 }}>
      <Typography variant="h2">{title}</Typography>
      {said && (
        <Typography variant="body2" color="textSecondary" sx={{ mb: 0.5 }}>
          {said}
        </Typography>
      )}
      {functions.map((f, i) => (
        <Row key={f.name} left={<Example formula={f.example} />}>
          {f.meaning}
          {/* Functions that take the same stand together: it is said once. */}
          {f.arguments !== functions[i - 1]?.arguments && <span className="second"> · takes {f.arguments}</span>}
        </Row>
      ))}
    </Box>
  );
}

function Row({ left, children }: { left: ReactNode; children: ReactNode }) {
  return (
    <Box
      sx={{
        display: "grid",
        gridTemplateColumns: { xs: "1fr", md: "300px 1fr" },
        columnGap: 2,
        py: 0.5,
        borderTop: `1px solid ${tint("hairline")}`,
        fontSize: 13,
        lineHeight: "24px",
      }}
    >
      <Box sx={{ overflowWrap: "anywhere" }}>{left}</Box>
      <Box>{children}</Box>
    </Box>
  );
}

/** A formula that opens in the editor, where it is answered. */
function Example({ formula }: { formula: string }) {
  const address = useAddress();
  const editor = address("/guide");
  return (
    <Link
      component={RouterLink}
      to={`${editor}${editor.includes("?") ? "&" : "?"}f=${encodeURIComponent(formula)}`}
      sx={{ display: "block", lineHeight: "24px", fontWeight: 600 }}
    >
      {formula}
    </Link>
  );
}
