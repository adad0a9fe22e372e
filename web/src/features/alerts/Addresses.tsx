// Private addresses of a calendar and feeds: whoever knows one may read it, so each can be made anew.
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import type { Schemas } from "../../api/client";
import { downloadCalendar, useAddresses, useRenewAddress } from "../../api/following";
import { tint } from "../../theme/theme";
import { Heading } from "../today/Section";

export function Addresses() {
  const all = useAddresses().data ?? [];
  const renew = useRenewAddress();
  return (
    <Box component="section" aria-label="Calendar and feeds">
      <Heading title="Calendar and feeds" />
      <Typography variant="body2" color="textSecondary" sx={{ py: 0.75 }}>
        Dates ahead as a calendar, what enters and leaves a screen and insiders who buy together as feeds. Whoever knows
        an address may read it; a new one ends the one before.
      </Typography>
      {all.map((a) => (
        <Address key={a.purpose} address={a} renew={() => renew.mutate(a.purpose)} />
      ))}
      <Button onClick={() => void downloadCalendar()}>Dates ahead as an .ics file</Button>
    </Box>
  );
}

function Address({ address: a, renew }: { address: Schemas["PrivateAddress"]; renew: () => void }) {
  return (
    <Box
      sx={{ py: 0.5, borderBottom: `1px solid ${tint("hairline")}`, display: "flex", alignItems: "baseline", gap: 1 }}
    >
      <Box sx={{ flex: 1, minWidth: 0 }}>
        <b>{a.name}</b>
        {a.address && (
          <Typography variant="caption" component="div" color="textSecondary" className="anywhere">
            {a.address}
          </Typography>
        )}
      </Box>
      {a.address && <Button onClick={() => void navigator.clipboard.writeText(a.address ?? "")}>Copy</Button>}
      <Button onClick={renew}>{a.address ? "New address" : "Make an address"}</Button>
    </Box>
  );
}
