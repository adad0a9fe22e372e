// The questions in the order in which a company is judged, each with its answer, its mark and the evidence under it.
import Box from "@mui/material/Box";
import Typography from "@mui/material/Typography";
import { lazy, type ReactNode, startTransition, useEffect, useState } from "react";
import type { Schemas } from "../../api/client";
import { WhenNear } from "../../components/Answered";
import { numberOf } from "../../headless/format";
import { tint } from "../../theme/theme";
import { EarningsChart } from "./EarningsChart";
import { Expected } from "./expected/Expected";
import { KeyFigures } from "./KeyFigures";
import { MarkShape } from "./MarkShape";
import { MultipleRange } from "./MultipleRange";
import { MySoundness } from "./mine/MySoundness";
import { Owners } from "./owners/Owners";
import { Peers } from "./Peers";
import { People } from "./People";
import { OwnYears } from "./paid/OwnYears";
import { Ranges } from "./Ranges";
import { StatementSection } from "./Statements";
import { CashPicture } from "./strength/CashPicture";
import { Solvency } from "./strength/Solvency";
import { keptQuestion } from "./useQuestion";
import { Worth } from "./Worth";
import { Wrong } from "./Wrong";
import { YearTable } from "./YearTable";

type Page = Schemas["CompanyPage"];

const NoteSection = lazy(() => import("./mine/NoteSection"));
const MyDecisions = lazy(() => import("./mine/MyDecisions"));
const PriceSection = lazy(() => import("./price/PriceSection"));

/** What stands under each question. */
const EVIDENCE: Record<string, (page: Page) => ReactNode> = {
  does: (page) => <Peers symbol={page.company.symbol} />,
  earnings: (page) => (
    <>
      <EarningsChart years={page.years} />
      <YearTable page={page} />
    </>
  ),
  multiple: (page) => (
    <>
      <Ranges page={page} measures={["pe", "pb", "ps", "ev_ebit", "fcf_yield"]} />
      <WhenNear rows={6}>
        <OwnYears symbol={page.company.symbol} />
      </WhenNear>
      <MultipleRange value={page.value} />
    </>
  ),
  margin: (page) => (
    <>
      <Ranges page={page} measures={["operating_margin"]} />
      <StatementSection symbol={page.company.symbol} base={page.base} statement="income" />
    </>
  ),
  debt: (page) => (
    <>
      <WhenNear rows={10}>
        <Solvency symbol={page.company.symbol} />
      </WhenNear>
      <StatementSection symbol={page.company.symbol} base={page.base} statement="balance" />
    </>
  ),
  cash: (page) => (
    <>
      <WhenNear rows={6}>
        <CashPicture symbol={page.company.symbol} base={page.base} />
      </WhenNear>
      <StatementSection symbol={page.company.symbol} base={page.base} statement="cash" />
    </>
  ),
  owners: (page) => (
    <>
      <KeyFigures page={page} formulas={["insider_stake", "insider_net_buying_ratio(12)"]} />
      <WhenNear rows={10}>
        <Owners symbol={page.company.symbol} base={page.base} />
      </WhenNear>
    </>
  ),
  expected: (page) => (
    <WhenNear rows={10}>
      <Expected
        symbol={page.company.symbol}
        base={page.base}
        currency={page.currency}
        price={numberOf(page.value.price)}
      />
    </WhenNear>
  ),
  worth: (page) => <Worth page={page} />,
  wrong: (page) => <Wrong value={page.value} />,
  price: (page) => (
    <>
      <KeyFigures page={page} formulas={["price", "change(1d)", "from_low_52w", "from_high_52w"]} />
      <WhenNear rows={14}>
        <PriceSection symbol={page.company.symbol} months={page.months} value={page.value} />
      </WhenNear>
    </>
  ),
  people: (page) => (
    <>
      <KeyFigures page={page} formulas={["chief_tenure"]} />
      <People page={page} />
      <MySoundness value={page.value} />
      <WhenNear rows={6}>
        <NoteSection symbol={page.company.symbol} />
        <MyDecisions symbol={page.company.symbol} />
      </WhenNear>
    </>
  ),
};

const SECTION = {
  py: 1.5,
  borderTop: `1px solid ${tint("hairline")}`,
  // What is out of view is laid out when it comes into view: stepping from company to company need not wait for it.
  contentVisibility: "auto",
  containIntrinsicSize: "auto 700px",
};

/** Questions whose evidence is there at once; that of the others follows without holding up the page. */
const AT_ONCE = 2;
const COMING = <Box sx={{ height: 640 }} />;

export function Evidence({ page }: { page: Page }) {
  const [begins] = useState(keptQuestion);
  const [whole, setWhole] = useState(false);
  useEffect(() => startTransition(() => setWhole(true)), []);
  return page.answers.map((a, i) => (
    <Box key={a.id} id={`q-${a.id}`} data-question={a.id} component="section" sx={SECTION}>
      <Typography variant="h2">{a.question}</Typography>
      <Box sx={{ display: "flex", gap: 1, alignItems: "baseline", mb: 1 }}>
        <MarkShape mark={a.mark} />
        <Typography variant="sentence">{a.sentence}</Typography>
      </Box>
      {whole || i < AT_ONCE || a.id === begins ? EVIDENCE[a.id]?.(page) : COMING}
    </Box>
  ));
}
