// The ranked table: only the rows in sight are drawn.
import Box from "@mui/material/Box";
import Checkbox from "@mui/material/Checkbox";
import Link from "@mui/material/Link";
import Paper from "@mui/material/Paper";
import Typography from "@mui/material/Typography";
import { useVirtualizer } from "@tanstack/react-virtual";
import { useEffect, useRef, useState } from "react";
import { Link as RouterLink, useNavigate } from "react-router";
import type { Schemas } from "../../api/client";
import { FigureCell } from "../../components/FigureCell";
import { Empty } from "../../components/States";
import { ValueSpread } from "../../components/ValueSpread";
import { useAddress } from "../../headless/asOf";
import { numberOf, percent } from "../../headless/format";
import { useKeys } from "../../headless/keys";
import { useMarks } from "../../headless/marks";
import { tint } from "../../theme/theme";

type Candidate = Schemas["CandidateRow"];

const TEMPLATE = "32px 36px minmax(180px, 1.6fr) 92px 44px 78px 84px 84px 190px 76px 92px 96px";
const HEAD: [string, string, "left" | "right"][] = [
  ["", "Marked", "left"],
  ["#", "Place", "right"],
  ["Company", "", "left"],
  ["Standing", "The price against what you would pay at most", "left"],
  ["", "Currency", "left"],
  ["Price", "", "right"],
  ["Pay at most", "The price that leaves the margin asked", "right"],
  ["Value", "Intrinsic value", "right"],
  ["price in the spread of value", "", "left"],
  ["Margin %", "Margin of safety at today's price", "right"],
  ["To fall %", "How far the price must fall to reach pay at most", "right"],
  ["Expected a year %", "Expected return of buying now and holding ten years", "right"],
];

export const STANDINGS: Record<Schemas["Standing"], [string, string]> = {
  in_range: ["In range", tint("teal")],
  close: ["Close", tint("brass")],
  wait: ["Wait", tint("second")],
  cannot_value: ["Cannot value", tint("faint")],
};

export function Ranked({ rows, total }: { rows: Candidate[]; total: number }) {
  const scroll = useRef<HTMLDivElement>(null);
  const virtual = useVirtualizer({
    count: rows.length,
    getScrollElement: () => scroll.current,
    estimateSize: () => 31,
    overscan: 8,
  });
  const at = useWalk(rows, (i) => virtual.scrollToIndex(i));
  return (
    <>
      <Paper ref={scroll} sx={{ overflow: "auto", flex: 1, minHeight: 0 }}>
        <Box role="table" aria-label="Ranked candidates" aria-rowcount={rows.length} sx={{ minWidth: 1120 }}>
          <Box
            role="row"
            sx={{
              display: "grid",
              gridTemplateColumns: TEMPLATE,
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
            {HEAD.map(([words, meaning, side], i) => (
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
          <Box sx={{ position: "relative", height: virtual.getTotalSize() }}>
            {virtual.getVirtualItems().map((item) => {
              const row = rows[item.index];
              return row && <Row key={row.symbol} row={row} top={item.start} current={item.index === at} />;
            })}
          </Box>
        </Box>
        {rows.length === 0 && (
          <Empty title="Nobody to rank">Choose another screen above, or loosen this one under Screens.</Empty>
        )}
      </Paper>
      {total > rows.length && (
        <Typography variant="caption" sx={{ color: tint("second"), mt: 0.5 }}>
          The first {rows.length} of {total}.
        </Typography>
      )}
    </>
  );
}

/** j and k move, x marks, o opens; the list is what one steps through afterwards. */
function useWalk(rows: Candidate[], show: (i: number) => void): number {
  const [at, setAt] = useState(-1);
  const { toggle, stepThrough } = useMarks();
  const navigate = useNavigate();
  const address = useAddress();
  const go = (to: number) => {
    const i = Math.min(Math.max(to, 0), rows.length - 1);
    setAt(i);
    if (i >= 0) show(i);
  };
  const row = rows[at];
  const open = () => row && navigate(address(`/companies/${row.symbol}`));
  useKeys({ j: () => go(at + 1), k: () => go(at - 1), x: () => row && toggle(row), o: open, Enter: open });
  const symbols = rows.map((r) => r.symbol).join(",");
  useEffect(() => stepThrough(symbols ? symbols.split(",") : []), [symbols, stepThrough]);
  return at;
}

function Row({ row, top, current }: { row: Candidate; top: number; current: boolean }) {
  const { marked, toggle } = useMarks();
  const address = useAddress();
  const isMarked = marked.some((m) => m.symbol === row.symbol);
  const [words, colour] = STANDINGS[row.standing];
  const fall = numberOf(row.fall_needed);
  return (
    <Box
      role="row"
      data-testid="candidate"
      sx={{
        position: "absolute",
        top,
        left: 0,
        right: 0,
        height: 31,
        display: "grid",
        gridTemplateColumns: TEMPLATE,
        columnGap: 1,
        px: 0.5,
        alignItems: "center",
        fontSize: 13,
        borderBottom: `1px solid ${tint("hairline")}`,
        bgcolor: isMarked ? tint("brassWash") : undefined,
        outline: current ? `2px solid ${tint("brass")}` : undefined,
        outlineOffset: -2,
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
      <Box role="cell">{row.spread && <ValueSpread spread={row.spread} width={180} />}</Box>
      <Box role="cell" className="n" sx={{ fontWeight: 600 }}>
        <FigureCell figure={row.margin_of_safety} unit="percent" bare />
      </Box>
      <Box role="cell" className="n">
        {fall !== null && fall <= 0 ? (
          <span title={`${percent(-fall)} under it`} style={{ color: tint("teal") }}>
            there
          </span>
        ) : (
          <FigureCell figure={row.fall_needed} unit="percent" bare />
        )}
      </Box>
      <Box role="cell" className="n">
        <FigureCell figure={row.expected_return} unit="percent" bare />
      </Box>
    </Box>
  );
}
