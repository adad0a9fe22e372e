// The columns of a list: what one says of each company, what is computed, what became of it since.
import type { Schemas } from "../../api/client";
import type { Column } from "../../components/table/model";
import { SpreadCell, spreadInWords } from "../../components/ValueSpread";
import { figureAt, spreadOf } from "../../headless/compact";
import { dragCompanies } from "../../headless/dragged";
import { day, figureText, percentBare, price, signed, unitHint } from "../../headless/format";
import { verdictColumn } from "../companies/tableColumns";
import { SinceAdded } from "./SinceAdded";

export type Row = Schemas["ListRow"];
type To = (path: string) => string;

const SOUND = ["I", "II", "III", "IV"];
const numeral = (s: number | null | undefined) => (s == null ? "" : SOUND[s - 1]);

/** Which way rows go when a header is first clicked. */
export const SORTS: Record<string, (row: Row) => number | string | null> = {
  company: (r) => r.name,
  soundness: (r) => r.mine ?? r.soundness ?? null,
  verdict: (r) => r.verdict,
  price: (r) => r.price ?? null,
  pay: (r) => r.pay ?? null,
  room: (r) => room(r),
  added: (r) => r.added_on,
  since: (r) => r.since ?? null,
  from: (r) => r.from,
};

/** How far the price is from what one would pay: 0.1 is 10 % above it. */
const room = (r: Row): number | null => (r.price == null || r.pay == null || r.pay <= 0 ? null : r.price / r.pay - 1);

/** With its sign, the unit being in the header. */
const bare = (x: number): string => (x > 0 ? `+${percentBare(x)}` : percentBare(x));

/** The first line of a note, without its marks. */
const firstLine = (note: string) => (note.split("\n").find((l) => l.trim() !== "") ?? "").replace(/^[#>*\-\s]+/, "");

/** What has a column of its own in every list; the columns of formulas follow. */
export const listColumns = (list: Schemas["ListRows"], to: To, edit: (row: Row) => void): Column<Row>[] => [
  grip(list.id),
  member(to),
  soundness(edit),
  ...WORTH,
  toPay(edit),
  ...SINCE,
  ...list.columns.map(formulaColumn),
];

function grip(from: string): Column<Row> {
  return {
    id: "grip",
    label: "",
    meaning: "Drag onto another list, or to another place in this one",
    width: 20,
    cell: (row) => (
      <span
        className="faint"
        style={{ cursor: "grab", fontSize: 15 }}
        {...dragCompanies({ companies: [{ symbol: row.symbol, name: row.name }], from })}
      >
        ≡
      </span>
    ),
    text: () => "",
  };
}

function member(to: To): Column<Row> {
  const href = (row: Row) => to(`/companies/${row.symbol}`);
  return {
    id: "company",
    label: "Company",
    width: 186,
    grows: true,
    sorts: "ascending",
    cell: (row) => (
      <span style={{ display: "block", lineHeight: 1.2, overflow: "hidden" }}>
        <span className="named">
          <a href={href(row)} tabIndex={-1}>
            {row.name}
          </a>
          <span className="faint">{row.symbol}</span>
          {!row.listed && <span className="clay">not listed</span>}
        </span>
        {row.own.note && (
          <span className="serif second" style={{ display: "block", textOverflow: "ellipsis", overflow: "hidden" }}>
            {firstLine(row.own.note)}
          </span>
        )}
      </span>
    ),
    text: (row) => `${row.name} ${row.symbol}`,
    tip: (row) => row.own.note || row.name,
    href,
    own: true,
  };
}

function soundness(edit: (row: Row) => void): Column<Row> {
  return {
    id: "soundness",
    label: "Sound",
    meaning: "Soundness by quality and flags; in brass your own, with its reason",
    width: 50,
    align: "end",
    sorts: "ascending",
    cell: (row) => (
      <span>
        <span className={row.mine == null ? "" : "faint"}>{numeral(row.soundness) || "–"}</span>
        {row.mine != null && <b className="brass"> {numeral(row.mine)}</b>}
      </span>
    ),
    text: (row) => `${numeral(row.soundness)} ${numeral(row.mine)}`,
    tip: (row) => row.reason,
    open: edit,
  };
}

const WORTH: Column<Row>[] = [
  {
    id: "spread",
    label: "Price in the spread of value",
    meaning:
      "Each valuation as a tick, the value as the tall mark, the price to pay as the notch, the price as the flag",
    width: 118,
    cell: (row) => {
      const spread = spreadOf(row.spread);
      return spread && <SpreadCell spread={spread} width={110} />;
    },
    text: () => "",
    tip: (row) => {
      const spread = spreadOf(row.spread);
      return spread && spreadInWords(spread);
    },
  },
  verdictColumn("ascending"),
  {
    id: "price",
    label: "Price",
    width: 88,
    align: "end",
    sorts: "descending",
    cell: (row) =>
      row.price == null ? (
        <span className="faint">–</span>
      ) : (
        <span>
          {price(row.price)} <span className="faint">{row.currency}</span>
        </span>
      ),
    text: (row) => String(row.price ?? ""),
  },
];

function toPay(edit: (row: Row) => void): Column<Row> {
  return {
    id: "pay",
    label: "Pay at most",
    meaning: "The price that leaves the required margin of safety; in brass the one you typed",
    width: 74,
    align: "end",
    sorts: "descending",
    cell: (row) => (
      <span className={row.own.price == null ? "strong" : "strong brass"}>
        {row.pay == null ? "–" : price(row.pay)}
      </span>
    ),
    text: (row) => String(row.pay ?? ""),
    tip: (row) => (row.own.price == null ? "Computed. Open the row to type your own." : "Typed by you"),
    open: edit,
  };
}

/** How far it is from the price to pay, and what became of it since it was added. */
const SINCE: Column<Row>[] = [
  {
    id: "room",
    label: "Away",
    hint: "%",
    meaning: "How far the price is above what you would pay; at or under it in teal",
    width: 58,
    align: "end",
    sorts: "ascending",
    cell: (row) => {
      const away = room(row);
      return away === null ? (
        <span className="faint">–</span>
      ) : (
        <span className={away <= 0 ? "teal strong" : ""}>{bare(away)}</span>
      );
    },
    text: (row) => String(room(row) ?? ""),
  },
  {
    id: "added",
    label: "Added",
    width: 86,
    align: "end",
    sorts: "descending",
    cell: (row) => <span className="second">{day(row.added_on)}</span>,
    text: (row) => row.added_on,
    tip: (row) =>
      [row.from && `From ${row.from}`, row.price_then != null && `at ${price(row.price_then)}`]
        .filter(Boolean)
        .join(", "),
  },
  {
    id: "since",
    label: "Since added",
    meaning: "The price since then; the faint slope is the median company",
    width: 108,
    align: "end",
    sorts: "descending",
    cell: (row) => <SinceAddedCell row={row} />,
    text: (row) => String(row.since ?? ""),
    tip: (row) =>
      row.universe_since == null ? undefined : `The median company ${signed(row.universe_since)} over the same days`,
  },
  {
    id: "from",
    label: "From",
    meaning: "From which screen or page it was added",
    width: 110,
    sorts: "ascending",
    aside: true,
    cell: (row) => <span className="second">{row.from}</span>,
    text: (row) => row.from,
  },
];

function SinceAddedCell({ row }: { row: Row }) {
  return <SinceAdded since={row.since ?? null} universe={row.universe_since ?? null} />;
}

function formulaColumn(c: Schemas["ListColumn"], i: number): Column<Row> {
  const written = (row: Row) => figureText(figureAt(row, i), c.unit, true);
  return {
    id: `f:${c.formula}`,
    label: c.label,
    hint: unitHint(c.unit),
    meaning: c.problem ?? c.formula,
    width: 84,
    align: c.unit === "text" ? "start" : "end",
    sorts: "descending",
    cell: (row) => <span className={written(row) === null ? "faint" : ""}>{written(row) ?? "–"}</span>,
    text: (row) => String(figureAt(row, i).value ?? ""),
    tip: (row) => figureAt(row, i).reason,
  };
}
