// Private addresses of a calendar and feeds: whoever knows one may read it, so each can be made anew.
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import type { Schemas } from "../../api/client";
import { downloadCalendar, useAddresses, useRenewAddress } from "../../api/following";
import { CopyButton } from "../../components/CopyButton";
import { day, moment } from "../../headless/format";
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
        <Address
          key={a.purpose}
          address={a}
          told={renew.data?.purpose === a.purpose ? renew.data.address : null}
          renew={() => renew.mutate(a.purpose)}
        />
      ))}
      <Button onClick={() => void downloadCalendar()}>Dates ahead as an .ics file</Button>
    </Box>
  );
}

interface Props {
  address: Schemas["PrivateAddress"];
  /** The address, where it was made a moment ago. */
  told: string | null | undefined;
  renew: () => void;
}

function Address({ address: a, told, renew }: Props) {
  return (
    <Box
      sx={{ py: 0.5, borderBottom: `1px solid ${tint("hairline")}`, display: "flex", alignItems: "baseline", gap: 1 }}
    >
      <Box sx={{ flex: 1, minWidth: 0 }}>
        <b>{a.name}</b>
        {a.made_at && (
          <Typography variant="caption" component="div" color="textSecondary">
            Made {moment(a.made_at)}, until {day((a.ends_at ?? "").slice(0, 10))}
          </Typography>
        )}
        {told && (
          <Typography variant="caption" component="div" className="anywhere">
            <b>{told}</b> It is not shown again.
          </Typography>
        )}
      </Box>
      {told && <CopyButton text={told} />}
      <Button onClick={renew}>{a.made_at ? "New address" : "Make an address"}</Button>
    </Box>
  );
}
