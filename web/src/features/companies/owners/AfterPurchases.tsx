// What followed earlier purchases of insiders, here and in the market.
import Typography from "@mui/material/Typography";
import type { Schemas } from "../../../api/client";
import { useAfterPurchases } from "../../../api/evidence";
import { Failed } from "../../../components/States";
import { useAsOf } from "../../../headless/asOf";
import { signed } from "../../../headless/format";

/** What the price did after earlier purchases, against all companies. */
export function AfterPurchases({ symbol }: { symbol: string }) {
  const [asOf] = useAsOf();
  const after = useAfterPurchases(symbol, asOf);
  if (after.error) return <Failed error={after.error} retry={() => after.refetch()} />;
  if (!after.data) return <Typography variant="body2">Looking at all companies after each purchase…</Typography>;
  const within = (of: Schemas["Followed"] | null | undefined, months: string) =>
    typeof of?.median === "number" ? `${signed(of.median)} within ${months} of ${of.purchases}` : null;
  const said = [within(after.data.six_months, "6 months"), within(after.data.twelve_months, "12 months")];
  const known = said.filter(Boolean).join(", ");
  return (
    <Typography variant="body2" role="status">
      {known
        ? `Against the mean of all companies the price did ${known} purchases on the open market: medians.`
        : "No purchase on the open market is half a year old."}
    </Typography>
  );
}
