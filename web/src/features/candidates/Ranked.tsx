// The ranked table: only the rows in sight are drawn.
import Box from "@mui/material/Box";
import Checkbox from "@mui/material/Checkbox";
import Link from "@mui/material/Link";
import type { SxProps } from "@mui/material/styles";
import Typography from "@mui/material/Typography";
import { Link as RouterLink } from "react-router";
import type { Schemas } from "../../api/client";
import { FigureCell } from "../../components/FigureCell";
import { QualityBar } from "../../components/QualityBar";
import { Empty } from "../../components/States";
import { ValueSpread } from "../../components/ValueSpread";
import { VirtualTable } from "../../components/VirtualTable";
import { useAddress } from "../../headless/asOf";
import { numberOf, plain } from "../../headless/format";
import { useMarks } from "../../headless/marks";
import { verdict } from "../../headless/verdicts";
import { tint } from "../../theme/theme";

type Candidate = Schemas["CandidateRow"];

const TEMPLATE = "30px 28px minmax(160px, 1.6fr) 82px 36px 66px 76px 72px 160px 58px 146px 38px 60px 46px";
const HEAD: [string, string, "left" | "right"][] = [
  ["", "Marked", "left"],
  ["#", "Place", "right"],
  ["Company", "", "left"],
  ["Verdict", "By price, value and quality", "left"],
  ["", "Currency", "left"],
  ["Price", "", "right"],
  ["Pay at most", "The price that leaves the margin asked", "right"],
  ["Value", "Intrinsic value", "right"],
  ["price in the spread of value", "", "left"],
  ["Margin %", "Margin of safety at today's price", "right"],
  ["Quality", "0 to 100: growth, profitability, balance sheet, owners' cash, alignment", "left"],
  ["Flags", "Red flags that are raised", "right"],
  ["Return %", "Expected return a year of buying now and holding ten years", "right"],
  ["Score", "Weighted mean of the ranks among those listed", "right"],
];

const RANKED = ["margin of safety", "quality", "expected return", "insiders' buying"];

/** What put a row where it is. */
function why(row: Candidate): string {
  const rank = (i: number) => (row.ranks[i] == null ? "not known" : plain(row.ranks[i], 0));
  return RANKED.map((words, i) => `${words} ${rank(i)}`).join(" · ");
}

interface RankedProps {
  rows: Candidate[];
  total: number;
  /** The assumption set shown beside. */
  against: string | null;
}

export function Ranked({ rows, total, against }: RankedProps) {
  return (
    <>
      <VirtualTable
        label="Ranked candidates"
        minWidth={against ? 1280 : 1120}
        header={<Head against={against} />}
        rows={rows}
        draw={(row, placed) => <Row row={row} placed={placed} beside={against !== null} />}
        empty={<Empty title="Nobody to rank">Choose another screen above, or loosen this one under Screens.</Empty>}
        sx={{ flex: 1, minHeight: 0 }}
      />
      {total > rows.length && (
        <Typography variant="caption" sx={{ color: tint("second"), mt: 0.5 }}>
          The first {rows.length} of {total}.
        </Typography>
      )}
    </>
  );
}

function Head({ against }: { against: string | null }) {
  const head: typeof HEAD = against
    ? [...HEAD, [`Under ${against}`, "Verdict, place and value under the other set", "left"]]
    : HEAD;
  return (
    <Box
      role="row"
      sx={{
        display: "grid",
        gridTemplateColumns: against ? `${TEMPLATE} 150px` : TEMPLATE,
        columnGap: 1,
        px: 0.5,
        py: 0.5,
        alignItems: "end",
        position: "sticky",
        top: 0,
        zIndex: 1,
        bgcolor: "background.paper",
        borderBottom: `1px solid ${tint("hairline")}`,
      }}
    >
      {head.map(([words, meaning, side], i) => (
        <Box
          key={i}
          role="columnheader"
          title={meaning || undefined}
          aria-label={words ? undefined : meaning}
          sx={{ textAlign: side, fontSize: 12, fontWeight: 500, lineHeight: 1.25, color: tint("second") }}
        >
          {words}
        </Box>
      ))}
    </Box>
  );
}

function Row({ row, placed, beside }: { row: Candidate; placed: SxProps; beside: boolean }) {
  const { marked, toggle } = useMarks();
  const address = useAddress();
  const isMarked = marked.some((m) => m.symbol === row.symbol);
  const [words, colour] = verdict(row.verdict);
  const quality = numberOf(row.quality);
  return (
    <Box
      role="row"
      data-testid="candidate"
      sx={{
        ...(placed as object),
        display: "grid",
        gridTemplateColumns: beside ? `${TEMPLATE} 150px` : TEMPLATE,
        columnGap: 1,
        px: 0.5,
        alignItems: "center",
        fontSize: 13,
        borderBottom: `1px solid ${tint("hairline")}`,
        bgcolor: isMarked ? tint("brassWash") : undefined,
        "& > .n": { textAlign: "right" },
      }}
    >
      <Checkbox
        checked={isMarked}
        onChange={() => toggle(row)}
        sx={{ p: 0.25 }}
        slotProps={{ input: { "aria-label": `Mark ${row.name}` } }}
      />
      <Box role="cell" className="n" sx={{ color: tint("faint") }}>
        {row.place}
      </Box>
      <Box role="cell" sx={{ overflow: "hidden", textOverflow: "ellipsis", whiteSpace: "nowrap" }}>
        <Link
          component={RouterLink}
          to={address(`/companies/${row.symbol}`)}
          title={row.name}
          sx={{ color: "inherit", fontWeight: 600 }}
        >
          {row.name}
        </Link>{" "}
        <span style={{ color: tint("faint") }}>{row.symbol}</span>
        {row.overridden && (
          <span title="With assumptions of your own for this company" style={{ color: tint("brass") }}>
            {" "}
            own
          </span>
        )}
      </Box>
      <Box role="cell" sx={{ color: colour, fontWeight: 600 }}>
        {words}
      </Box>
      <Box role="cell" sx={{ color: tint("faint"), fontSize: 12 }}>
        {row.currency}
      </Box>
      <Box role="cell" className="n">
        <FigureCell figure={row.price} unit="per_share" />
      </Box>
      <Box role="cell" className="n" data-testid="buy-below" sx={{ fontWeight: 600 }}>
        <FigureCell figure={row.buy_below} unit="per_share" />
      </Box>
      <Box role="cell" className="n">
        <FigureCell figure={row.intrinsic_value} unit="per_share" />
      </Box>
      <Box role="cell">{row.spread && <ValueSpread spread={row.spread} width={152} />}</Box>
      <Box role="cell" className="n" sx={{ fontWeight: 600 }}>
        <FigureCell figure={row.margin_of_safety} unit="percent" bare />
      </Box>
      <Box role="cell" sx={{ display: "flex", alignItems: "center", gap: 1, pl: 1 }}>
        <QualityBar pillars={row.pillars} width={100} />
        {quality === null ? (
          <FigureCell figure={row.quality} />
        ) : (
          <span data-testid="quality">{plain(quality, 0)}</span>
        )}
      </Box>
      <Box role="cell" className="n" sx={{ color: row.red_flags > 0 ? tint("clay") : tint("faint") }}>
        {row.red_flags}
      </Box>
      <Box role="cell" className="n">
        <FigureCell figure={row.expected_return} unit="percent" bare />
      </Box>
      <Box role="cell" className="n" title={why(row)} sx={{ fontWeight: 600 }}>
        {row.score == null ? "–" : plain(row.score, 0)}
      </Box>
      {row.other && <Other other={row.other} same={row.other.verdict === row.verdict} />}
    </Box>
  );
}

/** The same company under the other set. */
function Other({ other, same }: { other: Schemas["UnderOther"]; same: boolean }) {
  const [words, colour] = verdict(other.verdict);
  return (
    <Box role="cell" sx={{ whiteSpace: "nowrap", color: tint("second") }}>
      <span style={{ color: same ? tint("second") : colour, fontWeight: same ? 400 : 600 }}>{words}</span> ·{" "}
      {other.place}. · <FigureCell figure={other.intrinsic_value} unit="per_share" />
    </Box>
  );
}
