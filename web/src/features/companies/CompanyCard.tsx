// A company at a glance: price and value of ten years, and the newest headline.
import Box from "@mui/material/Box";
import Typography from "@mui/material/Typography";
import type { Schemas } from "../../api/client";
import { useGlance } from "../../api/queries";
import { PriceOverValue } from "../../components/PriceOverValue";
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

/** Price in ink and value in teal, month by month. */
function Lines({ of: { prices, values, first, last, currency } }: { of: Schemas["Glance"] }) {
  if (!first || !last || prices.length < 2) return <Typography variant="body2">No prices yet.</Typography>;
  const [now, worth] = [prices.at(-1) ?? 0, values.at(-1) ?? null];
  return (
    <>
      <PriceOverValue width={WIDTH} height={HEIGHT} prices={prices} values={values} currency={currency} />
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
