// The ranked table.
import { useQueryState } from "nuqs";
import { memo, useCallback, useMemo } from "react";
import { api, type Schemas } from "../../api/client";
import { useRankRows } from "../../api/queries";
import { QualityDrawing, qualityInWords } from "../../components/QualityBar";
import { Empty } from "../../components/States";
import { DataTable } from "../../components/table/DataTable";
import type { Column, Foot, GroupHead } from "../../components/table/model";
import { SpreadCell, spreadInWords } from "../../components/ValueSpread";
import { useAddress } from "../../headless/asOf";
import { figureText, inUnit, numberOf, plain } from "../../headless/format";
import { useCompanyMarks } from "../../headless/marks";
import { order } from "../../headless/address";
import { verdict } from "../../headless/verdicts";
import { useOpenCompany } from "../companies/open";
import { companyColumn, verdictColumn } from "../companies/tableColumns";
import { useCompanyRows } from "../companies/useCompanyRows";

type Candidate = Schemas["CandidateRow"];
type Figure = Schemas["Figure"];

const RANKED = ["margin of safety", "quality", "expected return", "insiders' buying"];

/** What put a row where it is. */
function why(row: Candidate): string {
  const rank = (i: number) => (row.ranks[i] == null ? "not known" : plain(row.ranks[i], 0));
  return RANKED.map((words, i) => `${words} ${rank(i)}`).join(" · ");
}

interface Props {
  request: Schemas["RankRequest"];
  total: number;
  medians: Schemas["Medians"];
  /** The assumption set shown beside. */
  against: string | null;
}

export const Ranked = memo(function Ranked({ request, total, medians, against }: Props) {
  const [sort, setSort] = useQueryState("sort", SORTED);
  const asked = useMemo(
    () => ({ ...request, order: sort.map((s) => ({ by: s.id as Schemas["RowKey"], descending: s.desc })) }),
    [request, sort],
  );
  const rows = useRankRows(asked, total);
  const foot = useMemo(() => inWords(medians.all), [medians]);
  const groups = useMemo(() => (request.group ? medians.groups.map(head) : undefined), [request.group, medians]);
  const marks = useCompanyMarks<Candidate>();
  const companyRows = useCompanyRows("Candidates");
  const open = useOpenCompany(useCallback(() => api.rankSymbols(asked), [asked]));
  const address = useAddress();
  const columns = useMemo(() => {
    const all = [
      place,
      {
        ...companyColumn<Candidate>(address),
        id: "name",
        grows: true,
        sorts: "ascending" as const,
        cell: named(address),
      },
      ...COLUMNS,
    ];
    return against ? [...all, beside(against)] : all;
  }, [address, against]);
  return (
    <DataTable
      name="candidates"
      label="Ranked candidates"
      columns={columns}
      rows={rows}
      groups={groups}
      foot={foot}
      sort={sort}
      setSort={setSort}
      marks={marks}
      open={open}
      {...companyRows}
      testId="candidate"
      empty={<Empty title="No companies to rank">Choose another screen above, or loosen this one under Screens.</Empty>}
      sx={{ flex: 1, minHeight: 220 }}
    />
  );
});

/** The columns that have medians, in the order of the answer. */
const MEDIANS: [string, Schemas["Unit"]][] = [
  ["margin_of_safety", "percent"],
  ["quality", "rank"],
  ["expected_return", "percent"],
  ["red_flags", "count"],
  ["score", "rank"],
];

const head = ({ name, companies, medians }: Schemas["GroupMedians"]): GroupHead => ({
  name,
  count: companies,
  cells: inWords(medians),
});

function inWords(medians: (number | null)[]): Foot {
  const cell = ([id, unit]: (typeof MEDIANS)[number], i: number) => {
    const median = medians[i];
    return typeof median === "number" ? [[id, inUnit(median, unit, true)]] : [];
  };
  return Object.fromEntries(MEDIANS.flatMap(cell));
}

const SORTED = order.withDefault([]);

const place: Column<Candidate> = {
  id: "place",
  label: "#",
  meaning: "Place in the ranking",
  width: 34,
  align: "end",
  sorts: "ascending",
  cell: (row) => <span className="faint">{row.place}</span>,
  text: (row) => String(row.place),
};

const named = (address: (path: string) => string) => (row: Candidate) => (
  <span className="named">
    <a href={address(`/companies/${row.symbol}`)} tabIndex={-1}>
      {row.name}
    </a>
    <span className="faint">{row.symbol}</span>
    {row.overridden && (
      <span className="brass" title="With assumptions of your own for this company">
        own
      </span>
    )}
  </span>
);

interface Told {
  id: string;
  label: string;
  meaning?: string;
  hint?: string;
  width: number;
  of: (row: Candidate) => Figure;
  unit?: Schemas["Unit"];
  strong?: boolean;
}

function figure({ id, label, meaning, hint, width, of, unit, strong = false }: Told): Column<Candidate> {
  return {
    id,
    label,
    meaning,
    hint,
    width,
    align: "end",
    sorts: "descending",
    cell: (row) => {
      const text = figureText(of(row), unit, true);
      return <span className={text === null ? "faint" : strong ? "strong" : undefined}>{text ?? "–"}</span>;
    },
    text: (row) => String(of(row).value ?? ""),
    tip: (row) => of(row).reason,
  };
}

const COLUMNS: Column<Candidate>[] = [
  verdictColumn("descending"),
  {
    id: "currency",
    label: "",
    meaning: "Currency",
    width: 34,
    cell: (row) => <span className="faint">{row.currency}</span>,
    text: (row) => row.currency,
  },
  figure({ id: "price", label: "Price", width: 68, of: (row) => row.price, unit: "per_share" }),
  {
    ...figure({
      id: "buy_below",
      label: "Pay at most",
      meaning: "The price that leaves the required margin of safety",
      width: 76,
      of: (row) => row.buy_below,
      unit: "per_share",
      strong: true,
    }),
  },
  figure({
    id: "intrinsic_value",
    label: "Value",
    meaning: "Intrinsic value per share",
    width: 72,
    of: (row) => row.intrinsic_value,
    unit: "per_share",
  }),
  {
    id: "spread",
    label: "Price in the spread of value",
    meaning:
      "Each valuation as a tick, the value as the tall mark, the price to pay at most as the notch, the price as the flag",
    width: 158,
    cell: (row) => row.spread && <SpreadCell spread={row.spread} width={150} />,
    text: () => "",
    tip: (row) => row.spread && spreadInWords(row.spread),
  },
  figure({
    id: "margin_of_safety",
    label: "Margin",
    hint: "%",
    meaning: "Margin of safety at today's price",
    width: 58,
    of: (row) => row.margin_of_safety,
    unit: "percent",
    strong: true,
  }),
  {
    id: "quality",
    label: "Quality",
    meaning: "0 to 100: growth, profitability, balance sheet, owners' cash, alignment",
    width: 142,
    sorts: "descending",
    cell: (row) => {
      const quality = numberOf(row.quality);
      return (
        <span className="quality">
          <QualityDrawing pillars={row.pillars} width={100} />
          <span data-testid="quality">{quality === null ? "–" : plain(quality, 0)}</span>
        </span>
      );
    },
    text: (row) => String(row.quality.value ?? ""),
    tip: (row) => row.quality.reason ?? qualityInWords(row.pillars),
  },
  {
    id: "red_flags",
    label: "Flags",
    meaning: "Red flags that are raised",
    width: 40,
    align: "end",
    sorts: "ascending",
    cell: (row) => <span className={row.red_flags > 0 ? "clay" : "faint"}>{row.red_flags}</span>,
    text: (row) => String(row.red_flags),
  },
  figure({
    id: "expected_return",
    label: "Return",
    hint: "%",
    meaning: "Expected annual return of buying now and holding for ten years",
    width: 58,
    of: (row) => row.expected_return,
    unit: "percent",
  }),
  {
    id: "score",
    label: "Score",
    meaning: "Weighted mean of the ranks among those listed",
    width: 46,
    align: "end",
    sorts: "descending",
    cell: (row) => <span className="strong">{row.score == null ? "–" : plain(row.score, 0)}</span>,
    text: (row) => String(row.score ?? ""),
    tip: why,
  },
];

/** The same company under another assumption set. */
function beside(set: string): Column<Candidate> {
  return {
    id: "other",
    label: `Under ${set}`,
    meaning: "Verdict, place and value under the other set",
    width: 150,
    cell: ({ other, verdict: mine }) => {
      if (!other) return null;
      const [words, colour] = verdict(other.verdict);
      const same = other.verdict === mine;
      return (
        <span className="faint">
          <span className={same ? undefined : "strong"} style={same ? undefined : { color: colour }}>
            {words}
          </span>{" "}
          · {other.place}. · {figureText(other.intrinsic_value, "per_share") ?? "–"}
        </span>
      );
    },
    text: ({ other }) => (other ? `${other.verdict} ${other.place} ${other.intrinsic_value.value ?? ""}` : ""),
  };
}
