// What followed earlier purchases of insiders, here and in the market.
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import type { Schemas } from "../../../api/client";
import { useAfterPurchases } from "../../../api/evidence";
import { Failed } from "../../../components/States";
import { useAsOf } from "../../../headless/asOf";
import { signed } from "../../../headless/format";

interface Props {
  symbol: string;
  /** Asked for already where one opened it. */
  opened?: boolean;
}

/** What the price did after earlier purchases, against all companies; asked for, since all of them are looked at. */
export function AfterPurchases({ symbol, opened = false }: Props) {
  const [asOf] = useAsOf();
  const [asked, setAsked] = useState(opened);
  const after = useAfterPurchases(symbol, asOf, asked);
  if (!asked) {
    return (
      <Button sx={{ ml: -0.6 }} onClick={() => setAsked(true)}>
        What followed earlier purchases?
      </Button>
    );
  }
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
