// A line of the page: what happened, why it is there, and what one can do with it.
import Box from "@mui/material/Box";
import Link from "@mui/material/Link";
import Typography from "@mui/material/Typography";
import { memo, type ReactNode } from "react";
import { Link as RouterLink, useNavigate } from "react-router";
import type { Schemas } from "../../api/client";
import { dragCompanies } from "../../headless/dragged";
import type { Marked } from "../../headless/marks";
import { tint } from "../../theme/theme";

export interface Item {
  line: Schemas["Line"];
  name: string;
  href?: string | undefined;
  /** The company, where it is about one. */
  company?: Marked;
  /** At the right, and below it. */
  figure?: ReactNode;
  below?: ReactNode;
  says: ReactNode;
  /** Why it is on the page. */
  why?: string;
  /** Stands out: it is new. */
  fresh?: boolean;
}

interface Props {
  item: Item;
  marked: boolean;
  mark: (companies: Marked[]) => void;
  putAway: (item: Item) => void;
}

export const Line = memo(function Line({ item, marked, mark, putAway }: Props) {
  const { line, company } = item;
  const navigate = useNavigate();
  return (
    <Box
      component="li"
      tabIndex={-1}
      data-line={line.key}
      className={line.away ? "away" : undefined}
      aria-label={item.name}
      onKeyDown={(e) => {
        // On the line itself; what is inside it has keys of its own.
        if (e.key === "Enter" && e.target === e.currentTarget && item.href) void navigate(item.href);
      }}
      sx={LINE}
      {...(company && dragCompanies({ companies: [company], found: "Today" }))}
    >
      <Box sx={{ flex: 1, minWidth: 0 }}>
        <Box sx={{ display: "flex", gap: 0.75, alignItems: "baseline" }}>
          {marked && (
            <Box component="span" sx={{ color: tint("brass") }} aria-label="marked">
              ✓
            </Box>
          )}
          <Name item={item} />
          {company && <span className="faint small nowrap">{company.symbol}</span>}
        </Box>
        <Typography variant="body2" color="textSecondary" component="div" sx={{ lineHeight: 1.35 }}>
          {item.says}
          {item.why && <span className="brass nowrap"> · {item.why}</span>}
        </Typography>
      </Box>
      {(item.figure || item.below) && (
        <Box sx={{ textAlign: "right", whiteSpace: "nowrap", flexShrink: 0 }}>
          <Box sx={{ fontSize: 14, fontWeight: item.fresh ? 600 : 500 }}>{item.figure}</Box>
          <Box className="faint" sx={{ fontSize: 13 }}>
            {item.below}
          </Box>
        </Box>
      )}
      <Box className="do">
        {company && (
          <button type="button" onClick={() => mark([company])}>
            {marked ? "Unmark" : "Mark"}
          </button>
        )}
        <button type="button" onClick={() => putAway(item)}>
          {line.away ? "Take back" : "Put away"}
        </button>
      </Box>
    </Box>
  );
});

function Name({ item }: { item: Item }) {
  const style = { fontWeight: 600, fontSize: 14, color: tint("ink"), overflow: "hidden", textOverflow: "ellipsis" };
  if (!item.href) return <Box sx={{ ...style, whiteSpace: "nowrap" }}>{item.name}</Box>;
  return (
    <Link component={RouterLink} to={item.href} noWrap sx={style} data-hint={item.name}>
      {item.name}
    </Link>
  );
}

const LINE = {
  position: "relative",
  display: "flex",
  gap: 1.5,
  py: 0.75,
  borderBottom: `1px solid ${tint("hairline")}`,
  "&.away": { opacity: 0.6 },
  "&:focus": { outline: "none", boxShadow: `inset 3px 0 0 ${tint("brass")}`, pl: 1, ml: -1 },
  "& .do": {
    position: "absolute",
    right: 0,
    bottom: 2,
    display: "flex",
    gap: 1.5,
    pl: 2,
    opacity: 0,
    pointerEvents: "none",
    bgcolor: "background.default",
  },
  "&:hover .do, &:focus .do, &:focus-within .do": { opacity: 1, pointerEvents: "auto" },
  "& .do button": {
    font: "inherit",
    fontSize: 12,
    fontWeight: 600,
    border: 0,
    p: 0,
    background: "none",
    color: tint("teal"),
    cursor: "pointer",
  },
  "@media print": { breakInside: "avoid", "& .do": { display: "none" } },
} as const;
