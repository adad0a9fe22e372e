// A company at a glance: price and value of ten years, and the newest headline.
import Box from "@mui/material/Box";
import Typography from "@mui/material/Typography";
import type { Schemas } from "../../api/client";
import { useGlance } from "../../api/queries";
import { useAsOf } from "../../headless/asOf";
import { day, price } from "../../headless/format";
import { tint } from "../../theme/theme";

const WIDTH = 300;
const HEIGHT = 84;

export function CompanyCard({ symbol, name }: { symbol: string; name: string }) {
  const [asOf] = useAsOf();
  const { data: c, error } = useGlance(symbol, asOf);
  return (
    <Box sx={{ width: WIDTH, py: 0.5 }}>
      <Typography variant="h4" component="p">
        {name}
      </Typography>
      <Typography variant="caption" component="div" color="textSecondary">
        {c ? `${symbol} · ${c.industry} · ${c.country}` : symbol}
      </Typography>
      {error ? (
        <Typography variant="body2">{error.message}</Typography>
      ) : (
        <Box sx={{ height: HEIGHT + 20, mt: 0.5 }}>{c && <Lines of={c} />}</Box>
      )}
      {c?.headline && (
        <Typography variant="body2" sx={{ mt: 0.5, pt: 0.5, borderTop: `1px solid ${tint("hairline")}` }}>
          {c.headline.text}{" "}
          <Box component="span" className="second">
            {[c.headline.source, c.headline.published_on && day(c.headline.published_on)].filter(Boolean).join(", ")}
          </Box>
        </Typography>
      )}
    </Box>
  );
}

/** Price in ink and value in teal, month by month; equal changes are equally tall. */
function Lines({ of: { prices, values, first, last, currency } }: { of: Schemas["Glance"] }) {
  if (!first || !last || prices.length < 2) return <Typography variant="body2">No prices yet.</Typography>;
  const known = [...prices, ...values].filter((v) => typeof v === "number" && v > 0) as number[];
  const [low, high] = [Math.log(Math.min(...known)), Math.log(Math.max(...known))];
  const x = (i: number) => Math.round((i / (prices.length - 1)) * WIDTH * 10) / 10;
  const y = (v: number) =>
    Math.round((HEIGHT - 4 - ((Math.log(v) - low) / (high - low || 1)) * (HEIGHT - 8)) * 10) / 10;
  const [now, worth] = [prices.at(-1) ?? 0, values.at(-1) ?? null];
  const words = `Price ${price(now)} ${currency}${worth === null ? "" : `, value ${price(worth)}`}`;
  return (
    <>
      <svg width={WIDTH} height={HEIGHT} role="img" aria-label={words} style={{ display: "block" }}>
        <path d={path(values, x, y)} fill="none" stroke={tint("teal")} strokeWidth={2} />
        <path d={path(prices, x, y)} fill="none" stroke={tint("ink")} strokeWidth={1.2} />
      </svg>
      <Typography variant="caption" component="div" color="textSecondary" sx={{ display: "flex" }}>
        <span>{first.slice(0, 4)}</span>
        <Box component="span" sx={{ flex: 1, textAlign: "center" }}>
          price <b>{price(now)}</b> {currency}
          {worth !== null && (
            <Box component="span" className="teal">
              {" "}
              · value <b>{price(worth)}</b>
            </Box>
          )}
        </Box>
        <span>{last.slice(0, 4)}</span>
      </Typography>
    </>
  );
}

/** A line through what is known and can be drawn. */
function path(of: (number | null)[], x: (i: number) => number, y: (v: number) => number): string {
  let pen = "M";
  const step = (v: number | null, i: number) => {
    const known = v !== null && v > 0;
    const drawn = known ? `${pen}${x(i)} ${y(v)}` : "";
    pen = known ? "L" : "M";
    return drawn;
  };
  return of.map(step).join("");
}
