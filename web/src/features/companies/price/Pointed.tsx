// The bar or the mark that one points at, in a line; of nothing the last bar.
import Typography from "@mui/material/Typography";
import { useStretch } from "../../../api/evidence";
import { useAsOf } from "../../../headless/asOf";
import { compact, day, percent, price as money, signed } from "../../../headless/format";
import type { Month, Price } from "./frame";
import type { Entry } from "./lanes";
import type { At } from "./useHand";

interface Props {
  symbol: string;
  price: Price;
  months: Month[];
  at: At | null;
}

export function Pointed({ symbol, price: p, months, at }: Props) {
  const bar = at?.bar ?? p.dates.length - 1;
  const [date, close, before] = [p.dates[bar] ?? "", p.close[bar] ?? 0, p.close[bar - 1]];
  const entry = at?.mark?.entry;
  const value = months.findLast((m) => m.date <= date)?.value;
  return (
    <Typography
      variant="body2"
      component="div"
      sx={{ height: 21, contain: "strict", whiteSpace: "nowrap", overflow: "hidden", textOverflow: "ellipsis" }}
    >
      {entry ? (
        <>
          <b>{day(entry.date)}</b> {entry.text}
          <OfTheDay entry={entry} symbol={symbol} />
        </>
      ) : (
        <>
          <b>{day(date)}</b> <span className="second">open</span> {money(p.open[bar] ?? 0)}{" "}
          <span className="second">high</span> {money(p.high[bar] ?? 0)} <span className="second">low</span>{" "}
          {money(p.low[bar] ?? 0)} <span className="second">close</span> <b>{money(close)}</b>
          {before ? ` ${signed(close / before - 1)}` : ""} <span className="second">volume</span>{" "}
          {p.volume[bar] == null ? "not known" : compact(p.volume[bar])}
          {value != null && (
            <>
              {" "}
              <span className="second">value</span> <span className="teal">{money(value)}</span>
              <span className="second">
                {" "}
                ({percent(Math.abs(close / value - 1))} {close < value ? "under" : "over"})
              </span>
            </>
          )}
        </>
      )}
    </Typography>
  );
}

/** What price and sector did in the session that could answer a headline. */
function OfTheDay({ entry, symbol }: { entry: Entry; symbol: string }) {
  const [asOf] = useAsOf();
  const { session } = entry;
  const ends: [string, string] | null = entry.lane === "news" && session ? [dayBefore(session), session] : null;
  const { data } = useStretch(symbol, ends, asOf);
  if (entry.lane !== "news" || entry.size == null) return null;
  const sector = data?.to === session ? data?.sector : null;
  return (
    <span className="second">
      ; that session the price {signed(entry.size)}
      {sector != null && `, the sector ${signed(sector)}`}
    </span>
  );
}

const dayBefore = (day: string): string =>
  new Date(Date.parse(`${day}T00:00:00Z`) - 86_400_000).toISOString().slice(0, 10);
