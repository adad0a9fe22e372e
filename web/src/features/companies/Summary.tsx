// Beside the page: the price, the spread of value with its movable notch, what follows, key figures.
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { useNavigate } from "react-router";
import type { Schemas } from "../../api/client";
import { downloadCompany } from "../../api/evidence";
import { FigureCell } from "../../components/FigureCell";
import { QualityBar } from "../../components/QualityBar";
import { ValueSpread } from "../../components/ValueSpread";
import { useActions } from "../../headless/actions";
import { useAddress, useAsOf } from "../../headless/asOf";
import { day, numberOf, percent, plain, price } from "../../headless/format";
import { useMarks } from "../../headless/marks";
import { tint } from "../../theme/theme";
import { verdict } from "../../headless/verdicts";
import { Followed } from "./Followed";

type Page = Schemas["CompanyPage"];

export function Summary({ page }: { page: Page }) {
  const { marked, toggle } = useMarks();
  const { company } = page;
  const isMarked = marked.some((m) => m.symbol === company.symbol);
  const change = page.figures.find((f) => f.formula === "change(1d)");
  const low = numberOf(page.figures.find((f) => f.formula === "from_low_52w")?.figure);
  const today = numberOf(change?.figure);
  return (
    <Box
      component="aside"
      aria-label="Summary"
      sx={{ borderLeft: `1px solid ${tint("hairline")}`, p: 2, overflowY: "auto" }}
    >
      <Box sx={{ display: "flex", alignItems: "baseline", gap: 1 }}>
        <Typography variant="largeFigure">
          <FigureCell figure={page.value.price} unit="per_share" opens={{ formula: "price", symbol: company.symbol }} />
        </Typography>
        <Typography color="textSecondary">{page.currency}</Typography>
        <Box sx={{ flex: 1 }} />
        {today !== null && (
          <Typography variant="body2" sx={{ color: today < 0 ? tint("clay") : tint("teal") }}>
            {today > 0 && "+"}
            {percent(today)}
          </Typography>
        )}
      </Box>
      <Typography variant="body2" color="textSecondary" sx={{ mb: 1 }}>
        {page.price_date && day(page.price_date)}
        {low !== null && ` · ${percent(low)} above its 52-week low`}
      </Typography>
      <Worth page={page} />
      <Ahead dates={page.ahead} />
      <Box component="dl" sx={{ m: 0, mt: 1.5 }}>
        {page.figures
          .filter(
            (f) => !["price", "change(1d)", "from_low_52w"].includes(f.formula) && f.figure.reason !== MEANINGLESS,
          )
          .map((f) => (
            <Box
              key={f.formula}
              data-hint={`${f.meaning} ${f.formula}`}
              sx={{
                display: "flex",
                justifyContent: "space-between",
                gap: 1,
                py: 0.4,
                borderBottom: `1px solid ${tint("hairline")}`,
                fontSize: 13,
              }}
            >
              <Box component="dt" className="second">
                {f.label}
              </Box>
              <Box component="dd" sx={{ m: 0, fontWeight: 500, whiteSpace: "nowrap" }}>
                <FigureCell figure={f.figure} unit={f.unit} opens={{ formula: f.formula, symbol: company.symbol }} />
                {f.unit === "money" && <span className="faint light"> {page.base}</span>}
              </Box>
            </Box>
          ))}
      </Box>
      <Button
        fullWidth
        variant={isMarked ? "outlined" : "contained"}
        color="secondary"
        sx={{ mt: 2 }}
        onClick={() => toggle([{ symbol: company.symbol, name: company.name }])}
      >
        {isMarked ? "Marked · unmark" : "Mark"}
      </Button>
      <Followed company={company} currency={page.currency} />
      <TakeAlong symbol={company.symbol} />
    </Box>
  );
}

/** On paper, or as a workbook. */
function TakeAlong({ symbol }: { symbol: string }) {
  const [asOf] = useAsOf();
  const navigate = useNavigate();
  const address = useAddress();
  const paper = () => navigate(address(`/companies/${symbol}/paper`));
  const workbook = () => void downloadCompany(symbol, asOf);
  useActions([
    { label: "Put this company on paper", run: paper },
    { label: "Take this company as a workbook", run: workbook },
    {
      label: "Take this company's filings as xBRL-JSON",
      run: () => window.location.assign(`/api/export?symbol=${encodeURIComponent(symbol)}&form=xbrl-json`),
    },
  ]);
  return (
    <Box sx={{ display: "flex", gap: 1, mt: 0.5 }}>
      <Button onClick={paper}>On paper</Button>
      <Button onClick={workbook}>As a workbook</Button>
    </Box>
  );
}

/** What is due soon, as far as it is known. */
function Ahead({ dates }: { dates: Page["ahead"] }) {
  if (dates.length === 0) return null;
  return (
    <Typography variant="body2" sx={{ mt: 1 }}>
      <span className="second">Ahead</span>{" "}
      {dates.map((d, i) => (
        <span key={d.date + d.what}>
          {i > 0 && " · "}
          <b>{day(d.date)}</b> {d.what}
          {!d.confirmed && <span className="second"> (not confirmed)</span>}
        </span>
      ))}
    </Typography>
  );
}

/** Why a figure says nothing of a kind of company: it is left out. */
const MEANINGLESS = "not meaningful for this kind";

/** The spread; dragging its notch asks for another margin, here only. */
function Worth({ page: { value: v } }: { page: Page }) {
  const [margin, setMargin] = useState(v.margin);
  const value = numberOf(v.intrinsic_value);
  const now = numberOf(v.price);
  if (!v.spread || value === null || now === null) {
    return (
      <Box sx={{ p: 1.25, border: `1px solid ${tint("hairline")}`, borderRadius: 1 }}>
        <Typography variant="body2">No value: {v.intrinsic_value.reason}.</Typography>
      </Box>
    );
  }
  const limit = value * (1 - margin);
  const byPrice = now <= limit ? "in range" : now <= limit * 1.1 ? "close" : "wait";
  const [words, colour] = verdict(v.verdict === "pass" ? "pass" : byPrice);
  const score = numberOf(v.quality.score);
  const gap = 1 - now / value;
  return (
    <>
      <ValueSpread
        spread={{ ...v.spread, buy_below: limit }}
        width={254}
        large
        onBuyBelow={(p) => setMargin(Math.min(Math.max(1 - p / value, 0), 0.6))}
      />
      <Box sx={{ mt: 1, p: 1.25, border: `1px solid ${colour}`, borderRadius: 1, bgcolor: "background.paper" }}>
        <Typography variant="h4" component="p" sx={{ color: colour }}>
          {words}
        </Typography>
        <Typography variant="body2">
          {gap >= 0 ? `${percent(gap)} below value` : `${percent(-gap)} above value`}; you ask {percent(margin)}, so you
          would pay at most {price(limit)}.
          {v.verdict === "pass" && " Its quality is below what you ask, whatever the price."}
        </Typography>
        {margin !== v.margin && (
          <Button sx={{ ml: -0.6 }} onClick={() => setMargin(v.margin)}>
            Back to {percent(v.margin)}
          </Button>
        )}
      </Box>
      <Box sx={{ mt: 1, display: "flex", justifyContent: "space-between", alignItems: "center", fontSize: 13 }}>
        <span className="second">Quality</span>
        <Box sx={{ display: "flex", gap: 1, alignItems: "center", fontWeight: 600 }}>
          <QualityBar pillars={v.quality.pillars.map((p) => p.points)} width={120} />
          {score === null ? <FigureCell figure={v.quality.score} /> : plain(score, 0)}
        </Box>
      </Box>
      <Soundness value={v} />
      {v.draws && <Drawn draws={v.draws} />}
    </>
  );
}

const SOUND = ["I", "II", "III", "none"];

/** Soundness as computed, and in one's own judgement with its reason; both are shown. */
function Soundness({ value: v }: { value: Schemas["ValueAnswer"] }) {
  const computed = numberOf(v.quality.soundness);
  const mine = v.own.soundness;
  return (
    <Box sx={{ mt: 0.5, display: "flex", justifyContent: "space-between", fontSize: 13 }}>
      <span className="second">Soundness</span>
      <b data-hint={mine ? v.own.reason : "I to III by quality and red flags"}>
        {computed === null ? <FigureCell figure={v.quality.soundness} /> : SOUND[computed - 1]}
        {mine && <span className="brass"> · mine {SOUND[mine - 1]}</span>}
      </b>
    </Box>
  );
}

/** How sure one can be: the value when what cannot be known is drawn ten thousand times. */
function Drawn({ draws }: { draws: Schemas["DrawsAnswer"] }) {
  const chance = numberOf(draws.chance_undervalued);
  const [, low = 0, , high = 0] = draws.percentiles;
  return (
    <Typography variant="body2" color="textSecondary" sx={{ mt: 0.75 }}>
      {chance !== null && `Worth more than its price in ${plain(chance * 100, 0)} of 100 draws; `}
      half of them lie between {price(low)} and {price(high)}.
    </Typography>
  );
}
