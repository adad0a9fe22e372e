// One measure: what it means, how it is computed, when it is undefined, how it is distributed today.
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Link from "@mui/material/Link";
import Typography from "@mui/material/Typography";
import type { ReactNode } from "react";
import { Link as RouterLink, useNavigate, useParams } from "react-router";
import type { Measure } from "../../api/client";
import { useMeasures } from "../../api/queries";
import { Empty } from "../../components/States";
import { useAddress } from "../../headless/asOf";
import { Distribution } from "../../components/Distribution";
import { ForCompany } from "./ForCompany";

const UNITS: Record<Measure["unit"], string> = {
  ratio: "a plain number",
  percent: "a fraction, shown as percent",
  money: "an amount in the base currency",
  per_share: "an amount a share, in the currency of the listing",
  count: "a count",
  days: "days",
  years: "years",
  rank: "a place from 0 to 100",
  date: "a date",
  flag: "yes or no",
  text: "text",
};

const BETTER: Record<Measure["better"], string> = {
  higher: "Higher is better.",
  lower: "Lower is better.",
  neither: "Neither direction is better by itself.",
};

export function MeasurePage() {
  const { id } = useParams();
  const measures = useMeasures().data ?? [];
  const address = useAddress();
  const navigate = useNavigate();
  const m = measures.find((x) => x.id === id);
  if (!m) return <Empty title="There is no measure of this name">Search for it by a word on the left.</Empty>;
  const write = address("/guide");
  return (
    <Box sx={{ maxWidth: 760 }}>
      <Typography variant="h1">
        {m.label}{" "}
        <Typography component="span" color="textDisabled" sx={{ ml: 0.5 }}>
          {m.id}
        </Typography>
      </Typography>
      <Typography variant="sentence" sx={{ mt: 0.5 }}>
        {m.meaning}
      </Typography>
      <Distribution formula={m.example} />
      <Box
        component="dl"
        sx={{ display: "grid", gridTemplateColumns: "130px 1fr", rowGap: 0.75, columnGap: 2, my: 2, fontSize: 14 }}
      >
        <Fact term="Formula">
          {m.formula ? (
            <Linked formula={m.formula} measures={measures} />
          ) : (
            "Computed from its rows; open a figure to see them."
          )}
        </Fact>
        <Fact term="As you write it">
          <b>{m.example}</b>
          {m.params.map((p) => (
            <span key={p.name} className="second">
              {" "}
              · {p.name}: {PARAMS[p.kind]}
              {p.default && `, ${p.default} when left out`}
            </span>
          ))}
        </Fact>
        <Fact term="Its answer">
          {UNITS[m.unit]}. {BETTER[m.better]}
        </Fact>
        <Fact term="Undefined when">
          {m.undefined_when}
          {m.not_for && `; means nothing for the kinds ${m.not_for}`}.
        </Fact>
        {m.synonyms.length > 0 && <Fact term="Also found as">{m.synonyms.join(", ")}</Fact>}
        {m.source && <Fact term="Source">{m.source}</Fact>}
      </Box>
      <Button
        variant="outlined"
        onClick={() => navigate(`${write}${write.includes("?") ? "&" : "?"}f=${encodeURIComponent(m.example)}`)}
      >
        Use it in a formula
      </Button>
      <ForCompany formula={m.example} />
    </Box>
  );
}

const PARAMS: Record<Measure["params"][number]["kind"], string> = {
  count: "a whole number",
  period: "a period such as 6m",
  amount: "an amount in the base currency",
  back: "how many quarters back, 0 the newest",
  factor: "a number above 0",
  bars: "day, week or month",
  estimated: "eps, revenue or ebit",
  item: "a formula of statement items",
};

function Fact({ term, children }: { term: string; children: ReactNode }) {
  return (
    <>
      <Typography component="dt" color="textSecondary" sx={{ fontSize: 14 }}>
        {term}
      </Typography>
      <Box component="dd" sx={{ m: 0, overflowWrap: "anywhere" }}>
        {children}
      </Box>
    </>
  );
}

/** A formula whose measures lead to their pages. */
function Linked({ formula, measures }: { formula: string; measures: Measure[] }) {
  const address = useAddress();
  const known = new Set(measures.map((m) => m.id));
  return formula.split(/([a-z][a-z_0-9]*)/).map((part, i) =>
    known.has(part) ? (
      <Link key={i} component={RouterLink} to={address(`/guide/${part}`)}>
        {part}
      </Link>
    ) : (
      <span key={i}>{part}</span>
    ),
  );
}
