// A section of the page: its heading with how many there are, its lines, and the way on.
import Box from "@mui/material/Box";
import Link from "@mui/material/Link";
import Typography from "@mui/material/Typography";
import { type ReactNode, useState } from "react";
import { tint } from "../../theme/theme";
import { type Item, Line } from "./Line";
import type { Acting } from "./useActing";

/** Lines that are shown before one asks for all. */
const FIRST = 6;

interface Props {
  title: string;
  /** How many there are where not all have a line. */
  whole?: number;
  /** Said beside the heading. */
  count?: ReactNode;
  items: Item[];
  acting: Acting;
  /** What is said where there are no lines. */
  none: ReactNode;
  /** Before and behind the lines. */
  before?: ReactNode;
  after?: ReactNode;
}

export function Section({ title, whole, count, items, acting, none, before, after }: Props) {
  const [all, setAll] = useState(false);
  const [showsAway, setShowsAway] = useState(false);
  const here = items.filter((i) => !i.line.away);
  const away = items.length - here.length;
  const shown = showsAway ? items : all ? here : here.slice(0, FIRST);
  return (
    <Box component="section" aria-label={title} sx={{ mb: 3 }}>
      <Heading title={title} count={count} />
      {before}
      {here.length === 0 && !showsAway && (
        <Typography variant="body2" color="textSecondary" sx={{ py: 0.75 }}>
          {away > 0 ? "All put away." : none}
        </Typography>
      )}
      <Box component="ul" sx={{ listStyle: "none", m: 0, p: 0 }}>
        {shown.map((item) => (
          <Line
            key={item.line.key}
            item={item}
            marked={item.company !== undefined && acting.isMarked(item.company)}
            mark={acting.mark}
            putAway={acting.putAway}
          />
        ))}
      </Box>
      <Box className="not-on-paper" sx={{ display: "flex", gap: 2, pt: 0.5, fontSize: 13 }}>
        {here.length > FIRST && (
          <Link component="button" onClick={() => setAll(!all)} sx={{ fontWeight: 600 }}>
            {all ? "Fewer" : (whole ?? 0) > items.length ? `The first ${here.length}` : `All ${here.length}`}
          </Link>
        )}
        {away > 0 && (
          <Link component="button" onClick={() => setShowsAway(!showsAway)} color="textSecondary">
            {showsAway ? "Hide what was put away" : `${away} put away`}
          </Link>
        )}
        {after}
      </Box>
    </Box>
  );
}

export function Heading({ title, count }: { title: string; count?: ReactNode }) {
  return (
    <Box sx={{ display: "flex", alignItems: "baseline", gap: 1, borderBottom: `1px solid ${tint("ink")}`, pb: 0.25 }}>
      <Typography variant="h4" component="h2">
        {title}
      </Typography>
      <Typography variant="body2" color="textDisabled">
        {count}
      </Typography>
    </Box>
  );
}
