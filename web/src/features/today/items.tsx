// The lines of each section.
import type { Schemas } from "../../api/client";
import { Sparkline } from "../../components/Sparkline";
import { compact, day, percent, price, signed } from "../../headless/format";
import { tint } from "../../theme/theme";
import type { Item } from "./Line";

type Answer = Schemas["TodayAnswer"];
/** An address that keeps the date. */
type To = (path: string) => string;

const line = ({ key, state, away }: Schemas["Line"]): Schemas["Line"] => ({ key, state, away });
const SOUND = ["I", "II", "III", "IV"];

const of = (row: Schemas["Line"] & { symbol: string; name: string }, to: To) => ({
  line: line(row),
  name: row.name,
  href: to(`/companies/${row.symbol}`),
  company: { symbol: row.symbol, name: row.name },
});

export const underItems = ({ under }: Answer, to: To): Item[] =>
  under.map((u) => ({
    ...of(u, to),
    figure: price(u.price),
    below: u.currency,
    says: u.says,
    why: u.why,
    fresh: u.new,
  }));

export const insiderItems = ({ insiders }: Answer, to: To): Item[] =>
  insiders.companies.map((i) => ({
    ...of(i, to),
    figure: compact(i.amount),
    below: i.of_company == null ? "" : percent(i.of_company),
    says: i.says,
    why: i.why,
    fresh: i.cluster,
  }));

export const lowItems = ({ lows }: Answer, to: To): Item[] =>
  lows.sound.map((l) => ({
    ...of(l, to),
    figure: <Sparkline values={l.closes} width={76} height={26} label={`Its price over a year`} />,
    says: (
      <>
        <b className="ink">{SOUND[l.soundness - 1]}</b> · {l.says}
      </>
    ),
    why: l.why,
  }));

/** Names that are told before the rest is counted. */
const TOLD = 4;

const names = (all: Schemas["Named"][]) =>
  all
    .slice(0, TOLD)
    .map((n) => n.name)
    .concat(all.length > TOLD ? [`${all.length - TOLD} more`] : [])
    .join(", ");

export const screenItems = ({ screens }: Answer, to: To): Item[] =>
  screens
    .filter((s) => s.problem || s.entered.length > 0 || s.left.length > 0)
    .map((s) => ({
      line: line(s),
      name: s.name,
      href: to(`/screens?doc=${s.id}`),
      figure: s.problem ? "" : [`+${s.entered.length}`, `−${s.left.length}`].join(" "),
      below: s.problem ? "" : `${s.now} pass`,
      says: s.problem ? (
        <span className="clay">{s.problem}</span>
      ) : (
        [s.entered.length > 0 && `in: ${names(s.entered)}`, s.left.length > 0 && `out: ${names(s.left)}`]
          .filter(Boolean)
          .join(" · ")
      ),
      fresh: true,
    }));

const change = (x: number) => <span style={{ color: tint(x < 0 ? "clay" : "teal") }}>{signed(x)}</span>;

/** Days for which a headline may be why a price moved. */
const RECENT = 31;

const daysBetween = (from: string, to: string) => (Date.parse(to) - Date.parse(from)) / 86_400_000;

/** Why it moved, as far as the newest headline tells. */
function headline(h: Schemas["Headline"] | null | undefined, asOf: string) {
  if (!h?.published_on) return h?.text ?? "no news";
  if (daysBetween(h.published_on, asOf) > RECENT)
    return <span className="faint">no news since {day(h.published_on)}</span>;
  return (
    <>
      {h.text} <span className="faint nowrap">· {day(h.published_on)}</span>
    </>
  );
}

export const moverItems = ({ movers, as_of }: Answer, to: To): Item[] => [
  ...movers.sectors.map((s) => ({
    line: line(s),
    name: `${s.sector}: ${s.says}`,
    figure: change(s.median),
    below: "in the middle",
    says: headline(s.headline, as_of),
    fresh: true,
  })),
  ...[...movers.rises, ...movers.falls]
    .sort((a, b) => Math.abs(b.change) - Math.abs(a.change))
    .map((m) => ({ ...of(m, to), figure: change(m.change), says: headline(m.headline, as_of), why: m.why })),
];

export const comingItems = ({ coming }: Answer, to: To): Item[] =>
  coming.map((c) => ({
    ...of(c, to),
    figure: day(c.date).replace(/ \d{4}$/, ""),
    says: `${c.what}${c.amount == null ? "" : ` ${price(c.amount)} ${c.currency}`}${c.expected ? " (expected)" : ""}`,
    why: c.why,
  }));

export const judgedItems = ({ flags, verdicts }: Answer, to: To): Item[] => [
  ...flags.map((f) => ({
    ...of(f, to),
    figure: <span className="clay">{f.flags.length === 1 ? "a flag" : `${f.flags.length} flags`}</span>,
    says: f.flags.join(" "),
    why: f.why,
    fresh: true,
  })),
  ...verdicts.map((v) => ({
    ...of(v, to),
    figure: v.after,
    below: v.before ? `was ${v.before}` : "",
    says: v.says,
    why: v.why,
  })),
];

export const alertItems = ({ alerts }: Answer, to: To): Item[] =>
  alerts.said.map((a) => ({
    line: line(a),
    name: a.name || a.alert,
    ...(a.symbol && { href: to(`/companies/${a.symbol}`), company: { symbol: a.symbol, name: a.name } }),
    figure: day(a.session).replace(/ \d{4}$/, ""),
    says: a.says,
    why: a.alert,
    fresh: true,
  }));

/** What became of orders and holdings. */
export const ledgerItems = ({ ledger }: Answer, to: To): Item[] =>
  ledger.happened.map((l) => ({
    line: line(l),
    name: l.name || l.account,
    ...(l.symbol && { href: to(`/companies/${l.symbol}`), company: { symbol: l.symbol, name: l.name } }),
    figure: day(l.date).replace(/ \d{4}$/, ""),
    says: l.says,
    why: l.account,
    fresh: true,
  }));
