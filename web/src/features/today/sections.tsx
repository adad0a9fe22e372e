// The sections of the page: what stands in each, where, and what each says when it has nothing.
import Box from "@mui/material/Box";
import Link from "@mui/material/Link";
import { type ReactNode, useMemo } from "react";
import { Link as RouterLink } from "react-router";
import type { Schemas } from "../../api/client";
import { useAddress } from "../../headless/asOf";
import { companies, plain } from "../../headless/format";
import { InsiderChoice } from "./InsiderChoice";
import {
  alertItems,
  comingItems,
  insiderItems,
  judgedItems,
  ledgerItems,
  lowItems,
  moverItems,
  screenItems,
  underItems,
} from "./items";
import type { Item } from "./Line";
import { MarketGauge } from "./MarketGauge";
import { Section } from "./Section";
import { useActing } from "./useActing";

type Answer = Schemas["TodayAnswer"];
type Layout = Schemas["TodayLayout"];

export interface Placed {
  name: string;
  /** About how many lines high. */
  height: number;
  element: ReactNode;
}

/** In columns one after the other, about as high as each other. */
export function partition(sections: Placed[], columns: number): Placed[][] {
  const whole = sections.reduce((sum, s) => sum + s.height, 0);
  const out: Placed[][] = Array.from({ length: columns }, () => []);
  let before = 0;
  for (const s of sections) {
    const at = Math.min(Math.floor(((before + s.height / 2) / whole) * columns), columns - 1);
    out[at]?.push(s);
    before += s.height;
  }
  return out;
}

const LINES_SHOWN = 6;
const HEAD = 1.5;

export function useSections(answer: Answer, layout: Layout, asOf: string | undefined): Placed[] {
  const to = useAddress();
  const items = useMemo(() => itemsOf(answer, to), [answer, to]);
  const byKey = useMemo(() => new Map(Object.values(items).flatMap((all) => all.map((i) => [i.line.key, i]))), [items]);
  const acting = useActing(byKey);
  const heads: Record<string, Head> = { ...ofFollowed(answer, items), ...ofAll(answer, items) };
  if (heads.insiders) heads.insiders = { ...heads.insiders, ...aroundInsiders(answer, layout, to) };
  const element = (name: string): ReactNode => {
    const head = heads[name];
    return head ? <Section {...head} items={items[name] ?? []} acting={acting} /> : <MarketGauge asOf={asOf} />;
  };
  const many = (name: string) => items[name]?.length ?? 0;
  return (
    layout.order
      // Alerts that say nothing and a ledger with nothing in it need no room.
      .filter((name) => !layout.hidden.includes(name) && (name !== "alerts" || many(name) > 0))
      .filter((name) => name !== "ledger" || answer.ledger.sentence !== "")
      .map((name) => ({
        name,
        height: name === "market" ? 6 : HEAD + Math.min(Math.max(many(name), 0.5), LINES_SHOWN),
        element: <Box key={name}>{element(name)}</Box>,
      }))
  );
}

type Items = Record<string, Item[]>;

/** What a section says besides its lines. */
interface Head {
  title: string;
  whole?: number;
  count?: ReactNode;
  none: ReactNode;
  before?: ReactNode;
  after?: ReactNode;
}

const FOLLOW_NOBODY = "You follow nobody yet: put companies on a list with l, or paste them under Lists.";

/** Of the companies one follows. */
function ofFollowed({ followed, alerts, ledger }: Answer, items: Items): Record<string, Head> {
  const none = (says: string) => (followed === 0 ? FOLLOW_NOBODY : says);
  return {
    under: {
      title: "Under the price you would pay",
      count: count(items.under),
      none: none(`None of the ${followed} companies you follow.`),
    },
    alerts: { title: "Alerts", whole: alerts.count, count: count(items.alerts), none: "None." },
    ledger: {
      title: "Orders and holdings",
      count: count(items.ledger),
      before: <Box className="serif second">{ledger.sentence}</Box>,
      none: "No order was filled, no dividend paid.",
    },
    verdicts: {
      title: "New flags, changed verdicts",
      count: count(items.verdicts),
      none: none("None of the companies you follow."),
    },
    coming: {
      title: "Coming up",
      count: "next 14 days",
      none: none("Nothing is due for the companies you follow."),
    },
  };
}

/** Of everybody. */
function ofAll(answer: Answer, items: Items): Record<string, Head> {
  const { lows, screens, movers } = answer;
  return {
    insiders: {
      title: "Insiders bought",
      whole: answer.insiders.count,
      count: insidersInWords(answer),
      none: "No purchase on the open market was filed.",
    },
    lows: {
      title: "At a yearly low, and sound",
      whole: lows.count,
      count: `${lows.count} of ${lows.all} lows`,
      none: "No sound company is at its low of the year.",
    },
    screens: {
      title: "Your screens",
      count: screens.length > 0 && `${items.screens?.length ?? 0} of ${screens.length} changed`,
      none: screens.length > 0 ? "Nobody entered or left them." : "You have none yet: save one under Screens.",
    },
    movers: { title: "Moved most, and why", count: `over a ${movers.over}`, none: "Nothing moved." },
  };
}

const aroundInsiders = ({ insiders, base, since }: Answer, layout: Layout, to: (path: string) => string) => ({
  before: <InsiderChoice layout={layout} countries={insiders.countries} base={base} />,
  after: (
    <Link component={RouterLink} to={to(`/today/trades?since=${since}`)} sx={{ fontWeight: 600 }}>
      All {plain(insiders.trades, 0)} trades, with grants and sales
    </Link>
  ),
});

const count = (items: Item[] = []): ReactNode => items.filter((i) => !i.line.away).length || "";

function insidersInWords({ insiders }: Answer): string {
  const clusters = insiders.clusters > 0 ? `, ${insiders.clusters} in clusters` : "";
  return insiders.count === 0 ? "" : `${companies(insiders.count)}${clusters}`;
}

const itemsOf = (answer: Answer, to: (path: string) => string): Items => ({
  under: underItems(answer, to),
  alerts: alertItems(answer, to),
  ledger: ledgerItems(answer, to),
  insiders: insiderItems(answer, to),
  lows: lowItems(answer, to),
  screens: screenItems(answer, to),
  movers: moverItems(answer, to),
  verdicts: judgedItems(answer, to),
  coming: comingItems(answer, to),
});
