// The company page: the questions with their marks, the evidence, and beside it price, value and what follows.
import Box from "@mui/material/Box";
import Link from "@mui/material/Link";
import Typography from "@mui/material/Typography";
import { useEffect } from "react";
import { useParams } from "react-router";
import type { Schemas } from "../../api/client";
import { useCompany } from "../../api/queries";
import { NarrowDrawer, useNarrow } from "../../components/NarrowDrawer";
import { Failed, LoadingPage } from "../../components/States";
import { useAsOf } from "../../headless/asOf";
import { day, plain } from "../../headless/format";
import { tint } from "../../theme/theme";
import { Evidence } from "./Evidence";
import { MarkShape } from "./MarkShape";
import { Steps } from "./Steps";
import { Summary } from "./Summary";
import { useQuestion } from "./useQuestion";

type Page = Schemas["CompanyPage"];

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
  const { box, question, go } = useQuestion();
  return (
    <Box sx={{ height: "100%", display: "grid", ...(narrow ? NARROW : WIDE) }}>
      <NarrowDrawer label="Questions" anchor="left" width={240}>
        <Box
          component="nav"
          aria-label="Questions"
          sx={{ borderRight: `1px solid ${tint("hairline")}`, p: 1.25, overflowY: "auto" }}
        >
          <Steps symbol={page.company.symbol} name={page.company.name} question={question} />
          {page.answers.map((a) => (
            <Link
              key={a.id}
              component="button"
              underline="none"
              onClick={() => go(a.id)}
              aria-current={a.id === question ? "true" : undefined}
              sx={QUESTION}
            >
              <MarkShape mark={a.mark} />
              {a.question}
            </Link>
          ))}
        </Box>
      </NarrowDrawer>
      <Box
        ref={box}
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

const QUESTION = {
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
  "&[aria-current]": { fontWeight: 600, bgcolor: tint("tray") },
};

function Heading({ page }: { page: Page }) {
  const { company: c } = page;
  const facts = [
    page.employees ? `${plain(page.employees, 0)} people` : "",
    page.founded ? `founded ${page.founded}` : "",
    listed(page.listings),
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
          {unlisted(page)}
        </Typography>
      )}
    </Box>
  );
}

/** Where it is listed, and since when. */
function listed(listings: Schemas["ListingRow"][]): string {
  const [first, ...others] = listings;
  if (!first) return "not listed";
  const since = first.listed_on ? ` since ${first.listed_on.slice(0, 4)}` : "";
  const more = others.map((l) => `${l.symbol} on ${l.exchange} in ${l.currency}`).join(", ");
  return `listed on ${first.exchange}${since}${more && `, also ${more}`}`;
}

/** Why there is no price: before its listing, after it, or no session for a while. */
function unlisted({ as_of, listings: [first], price_date }: Page): string {
  if (first?.listed_on && as_of < first.listed_on) return `It was first listed on ${day(first.listed_on)}.`;
  if (first?.delisted_on && as_of >= first.delisted_on)
    return `It left the exchange on ${day(first.delisted_on)}; the last price is of ${price_date ? day(price_date) : "no day"}.`;
  return price_date ? `It has not traded since ${day(price_date)}.` : "No price is known on this date.";
}
