// The companies left as a wall of small charts: price over value, months or years of it, all at once.
import Box from "@mui/material/Box";
import ButtonBase from "@mui/material/ButtonBase";
import Link from "@mui/material/Link";
import { styled } from "@mui/material/styles";
import Typography from "@mui/material/Typography";
import { useVirtualizer } from "@tanstack/react-virtual";
import { memo, useEffect, useRef } from "react";
import { Link as RouterLink } from "react-router";
import type { Schemas, ScreenList } from "../../api/client";
import { useWall } from "../../api/queries";
import { PriceOverValue } from "../../components/PriceOverValue";
import { Empty, Failed } from "../../components/States";
import { useAddress } from "../../headless/asOf";
import { useCompanyMarks } from "../../headless/marks";
import { useWidth } from "../../headless/useWidth";
import { SERIF, tint } from "../../theme/theme";

type Tile = Schemas["Tile"];

interface Props {
  list: ScreenList;
  survivors: number;
  months: number;
  open: (row: Tile) => void;
}

/** The least that a tile is wide, how tall it is, and what stands between two. */
const LEAST = 270;
const TALL = 176;
const GAP = 10;
const CHART = 96;

export function Wall({ list, survivors, months, open }: Props) {
  const box = useRef<HTMLDivElement>(null);
  const width = useWidth(box);
  const across = Math.max(1, Math.floor((width + GAP) / (LEAST + GAP)));
  const each = Math.floor((width - GAP * (across - 1)) / across);
  const { at, want, error } = useWall(list, months);
  const marks = useCompanyMarks<Tile>();
  const rows = useVirtualizer({
    count: Math.ceil(survivors / across),
    getScrollElement: () => box.current,
    estimateSize: () => TALL + GAP,
    overscan: 2,
  });
  const shown = rows.getVirtualItems();
  const [first, last] = [(shown[0]?.index ?? 0) * across, ((shown.at(-1)?.index ?? 0) + 1) * across - 1];
  useEffect(() => want(first, last), [want, first, last]);
  if (error) return <Failed error={error} />;
  if (survivors === 0) return <Empty title="No companies left">Loosen the criterion that removes most.</Empty>;
  return (
    <Box ref={box} sx={WALL}>
      <ul
        aria-label="Companies left, as charts"
        style={{ height: rows.getTotalSize(), position: "relative", margin: 0, padding: 0, listStyle: "none" }}
      >
        {shown.flatMap((row) =>
          Array.from({ length: Math.min(across, survivors - row.index * across) }, (_, i) => {
            const place = row.index * across + i;
            const tile = at(place);
            return (
              <li
                key={place}
                style={{ position: "absolute", top: row.start, left: i * (each + GAP), width: each, height: TALL }}
              >
                {tile && (
                  <One tile={tile} width={each} marked={marks.isMarked(tile)} toggle={marks.toggle} open={open} />
                )}
              </li>
            );
          }),
        )}
      </ul>
    </Box>
  );
}

const WALL = {
  maxHeight: "calc(100vh - 330px)",
  minHeight: 380,
  overflowY: "auto",
  scrollbarGutter: "stable",
} as const;

const Framed = styled(Box, { shouldForwardProp: (p) => p !== "marked" })<{ marked: boolean }>(({ marked }) => ({
  height: "100%",
  border: `1px solid ${tint(marked ? "brass" : "hairline")}`,
  boxShadow: marked ? `inset 0 0 0 1px ${tint("brass")}` : "none",
  borderRadius: 4,
  backgroundColor: tint("panel"),
  padding: "6px 10px",
  overflow: "hidden",
  "&:focus-within": { borderColor: tint("brass") },
}));

interface OneProps {
  tile: Tile;
  width: number;
  marked: boolean;
  toggle: (tiles: Tile[]) => void;
  open: (tile: Tile) => void;
}

const One = memo(function One({ tile: t, width, marked, toggle, open }: OneProps) {
  const mark = () => toggle([t]);
  const address = useAddress();
  return (
    <Framed
      marked={marked}
      data-testid="tile"
      onKeyDown={(e) => {
        if (e.key !== "x") return;
        e.preventDefault();
        e.stopPropagation();
        mark();
      }}
    >
      <Box sx={{ display: "flex", alignItems: "baseline", gap: 0.75 }}>
        <Link
          component={RouterLink}
          to={address(`/companies/${t.symbol}`)}
          onClick={(e) => {
            if (e.ctrlKey || e.metaKey || e.shiftKey) return;
            e.preventDefault();
            open(t);
          }}
          noWrap
          title={t.name}
          sx={{ color: "inherit", fontFamily: SERIF, fontWeight: 600, fontSize: 15 }}
        >
          {t.name}
        </Link>
        <span className="second small">{t.symbol}</span>
        <Box sx={{ flex: 1 }} />
        <ButtonBase
          onClick={mark}
          aria-pressed={marked}
          aria-label={`Mark ${t.name}`}
          sx={{ fontSize: 12, px: 0.5, color: tint(marked ? "brass" : "second") }}
        >
          {marked ? "marked" : "mark"}
        </ButtonBase>
      </Box>
      <Typography variant="body2" color="textSecondary" noWrap>
        {t.against_value ?? "cannot be valued"}
        {t.red_flags > 0 && (
          <span className="clay"> · {t.red_flags === 1 ? "1 red flag" : `${t.red_flags} red flags`}</span>
        )}
      </Typography>
      <Box sx={{ height: CHART, mt: 0.5 }}>
        {t.prices.length > 1 && (
          <PriceOverValue
            width={width - 22}
            height={CHART}
            prices={t.prices}
            values={t.values}
            low={t.low}
            high={t.high}
            buyBelow={t.buy_below}
            currency={t.currency}
          />
        )}
      </Box>
      <Typography variant="caption" color="textSecondary" component="div" sx={{ display: "flex" }} noWrap>
        <span>{t.first?.slice(0, 7)}</span>
        <Box component="span" sx={{ flex: 1, textAlign: "center" }}>
          {t.industry}
        </Box>
        <span>{t.last?.slice(0, 7)}</span>
      </Typography>
    </Framed>
  );
});
