// The company page: the questions with their marks, the evidence, and beside it price, value and what follows.
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Link from "@mui/material/Link";
import Typography from "@mui/material/Typography";
import { lazy, type ReactNode, Suspense, useEffect, useRef } from "react";
import { useNavigate, useParams } from "react-router";
import type { Schemas } from "../../api/client";
import { useCompany } from "../../api/queries";
import { NarrowDrawer, useNarrow } from "../../components/NarrowDrawer";
import { WhenNear } from "../../components/Answered";
import { Failed, Loading, LoadingPage } from "../../components/States";
import { useActions } from "../../headless/actions";
import { useAddress, useAsOf } from "../../headless/asOf";
import { numberOf, plain } from "../../headless/format";
import { useMarks } from "../../headless/marks";
import { tint } from "../../theme/theme";
import { EarningsChart } from "./EarningsChart";
import { Expected } from "./expected/Expected";
import { MarkShape } from "./MarkShape";
import { Owners } from "./owners/Owners";
import { OwnYears } from "./paid/OwnYears";
import { MySoundness } from "./mine/MySoundness";
import { MultipleRange } from "./MultipleRange";
import { Peers } from "./Peers";
import { People } from "./People";
import { Ranges } from "./Ranges";
import { StatementSection } from "./Statements";
import { CashPicture } from "./strength/CashPicture";
import { Solvency } from "./strength/Solvency";
import { Summary } from "./Summary";
import { Worth } from "./Worth";
import { Wrong } from "./Wrong";
import { YearTable } from "./YearTable";

type Page = Schemas["CompanyPage"];

const NoteSection = lazy(() => import("./mine/NoteSection"));
const PriceSection = lazy(() => import("./price/PriceSection"));

export function Company() {
  const { symbol = "" } = useParams();
  const [asOf] = useAsOf();
  const page = useCompany(symbol, asOf);
  useEffect(() => {
    document.title = `${page.data?.company.name ?? symbol} – Artemon`;
  }, [page.data, symbol]);
  if (page.error) return <Failed error={page.error} retry={() => page.refetch()} />;
  if (!page.data) return <LoadingPage />;
  return <Dossier key={page.data.company.symbol} page={page.data} />;
}

const WIDE = { gridTemplateColumns: "220px minmax(0, 1fr) 288px" };
/** The buttons of both sides above the evidence. */
const NARROW = { gridTemplateColumns: "1fr 1fr", gridTemplateRows: "auto minmax(0, 1fr)" };

function Dossier({ page }: { page: Page }) {
  const narrow = useNarrow();
  const centre = useRef<HTMLDivElement>(null);
  const go = (id: string) => centre.current?.querySelector(`#q-${id}`)?.scrollIntoView({ block: "start" });
  return (
    <Box sx={{ height: "100%", display: "grid", ...(narrow ? NARROW : WIDE) }}>
      <NarrowDrawer label="Questions" anchor="left" width={240}>
        <Box
          component="nav"
          aria-label="Questions"
          sx={{ borderRight: `1px solid ${tint("hairline")}`, p: 1.25, overflowY: "auto" }}
        >
          <Steps symbol={page.company.symbol} name={page.company.name} />
          {page.answers.map((a) => (
            <Link
              key={a.id}
              component="button"
              underline="none"
              onClick={() => go(a.id)}
              sx={{
                display: "flex",
                gap: 1,
                width: "100%",
                textAlign: "left",
                py: 0.75,
                px: 0.75,
                color: tint("ink"),
                fontSize: 13,
                lineHeight: 1.35,
                borderRadius: 1,
                "&:hover": { bgcolor: tint("tray") },
              }}
            >
              <MarkShape mark={a.mark} />
              {a.question}
            </Link>
          ))}
        </Box>
      </NarrowDrawer>
      <Box
        ref={centre}
        sx={{ overflowY: "auto", px: narrow ? 2 : 3.5, py: 2, ...(narrow && { gridRow: 2, gridColumn: "1 / -1" }) }}
      >
        <Heading page={page} />
        <Evidence page={page} />
      </Box>
      <NarrowDrawer label="Price and value" anchor="right" width={300}>
        <Summary page={page} />
      </NarrowDrawer>
    </Box>
  );
}

/** Where one is in the set one steps through; j and k move, x marks. */
function Steps({ symbol, name }: { symbol: string; name: string }) {
  const { walk, toggle } = useMarks();
  const navigate = useNavigate();
  const address = useAddress();
  const at = walk.indexOf(symbol);
  const go = (by: number) => {
    const next = walk[at + by];
    if (at >= 0 && next) navigate(address(`/companies/${next}`));
  };
  useActions([
    { keys: "x", label: `Mark or unmark ${name}`, run: () => toggle([{ symbol, name }]) },
    ...(at >= 0 && at < walk.length - 1 ? [{ keys: "j", label: "Next company", run: () => go(1) }] : []),
    ...(at > 0 ? [{ keys: "k", label: "Previous company", run: () => go(-1) }] : []),
  ]);
  if (at < 0 || walk.length < 2) return null;
  return (
    <Box sx={{ display: "flex", alignItems: "center", mb: 0.5, pl: 0.75 }}>
      <Typography variant="body2" color="textSecondary" sx={{ flex: 1 }}>
        {at + 1} of {walk.length}
      </Typography>
      <Button sx={{ minWidth: 28, p: 0 }} disabled={at === 0} onClick={() => go(-1)} aria-label="Previous company (k)">
        ‹ k
      </Button>
      <Button
        sx={{ minWidth: 28, p: 0 }}
        disabled={at === walk.length - 1}
        onClick={() => go(1)}
        aria-label="Next company (j)"
      >
        j ›
      </Button>
    </Box>
  );
}

function Heading({ page }: { page: Page }) {
  const { company: c } = page;
  const facts = [
    page.employees ? `${plain(page.employees, 0)} people` : "",
    page.founded ? `founded ${page.founded}` : "",
  ]
    .filter(Boolean)
    .join(", ");
  return (
    <Box sx={{ pb: 1.5 }}>
      <Typography variant="h1" component="h1">
        {c.name}{" "}
        <Typography component="span" variant="body2" color="textSecondary" sx={{ ml: 0.5 }}>
          {[c.symbol, page.exchange, c.sector, page.industry.toLowerCase(), c.kind === "operating" ? "" : c.kind]
            .filter(Boolean)
            .join(" · ")}
        </Typography>
      </Typography>
      <Typography variant="sentence" color="textSecondary">
        {page.description} {facts && `${facts[0]?.toUpperCase()}${facts.slice(1)}.`}
      </Typography>
      {!c.listed && (
        <Typography variant="body2" color="error" sx={{ mt: 0.5 }}>
          Not listed or not traded on this date.
        </Typography>
      )}
    </Box>
  );
}

const SECTION = { py: 1.5, borderTop: `1px solid ${tint("hairline")}` };

function Evidence({ page }: { page: Page }) {
  const whose = { symbol: page.company.symbol, base: page.base };
  const evidence: Record<string, ReactNode> = {
    does: <Peers symbol={whose.symbol} />,
    earnings: (
      <>
        <EarningsChart years={page.years} />
        <YearTable page={page} />
      </>
    ),
    multiple: (
      <>
        <Ranges page={page} measures={["pe", "pb", "ps", "ev_ebit", "fcf_yield"]} />
        <WhenNear rows={6}>
          <OwnYears symbol={whose.symbol} />
        </WhenNear>
        <MultipleRange value={page.value} />
      </>
    ),
    margin: (
      <>
        <Ranges page={page} measures={["operating_margin"]} />
        <StatementSection {...whose} statement="income" />
      </>
    ),
    debt: (
      <>
        <WhenNear rows={10}>
          <Solvency symbol={whose.symbol} />
        </WhenNear>
        <StatementSection {...whose} statement="balance" />
      </>
    ),
    cash: (
      <>
        <WhenNear rows={6}>
          <CashPicture {...whose} />
        </WhenNear>
        <StatementSection {...whose} statement="cash" />
      </>
    ),
    owners: (
      <WhenNear rows={10}>
        <Owners {...whose} />
      </WhenNear>
    ),
    expected: (
      <WhenNear rows={10}>
        <Expected {...whose} currency={page.currency} price={numberOf(page.value.price)} />
      </WhenNear>
    ),
    price: (
      <WhenNear rows={14}>
        <Suspense fallback={<Loading rows={14} />}>
          <PriceSection symbol={whose.symbol} months={page.months} value={page.value} />
        </Suspense>
      </WhenNear>
    ),
    people: (
      <>
        <People page={page} />
        <MySoundness value={page.value} />
        <WhenNear rows={6}>
          <Suspense fallback={<Loading rows={6} />}>
            <NoteSection symbol={whose.symbol} />
          </Suspense>
        </WhenNear>
      </>
    ),
    wrong: <Wrong value={page.value} />,
    worth: <Worth page={page} />,
  };
  return page.answers.map((a) => (
    <Box key={a.id} id={`q-${a.id}`} component="section" sx={SECTION}>
      <Typography variant="h2">{a.question}</Typography>
      <Box sx={{ display: "flex", gap: 1, alignItems: "baseline", mb: 1 }}>
        <MarkShape mark={a.mark} />
        <Typography variant="sentence">{a.sentence}</Typography>
      </Box>
      {evidence[a.id]}
    </Box>
  ));
}
