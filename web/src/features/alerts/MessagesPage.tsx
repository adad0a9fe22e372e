// Messages: how they reach the person, the digest, what was sent; and addresses for calendars and feeds.
import Box from "@mui/material/Box";
import Typography from "@mui/material/Typography";
import { useMailSettings, useOutbox } from "../../api/following";
import { Failed, Loading } from "../../components/States";
import { Addresses } from "./Addresses";
import { MailForm } from "./MailForm";
import { Sent } from "./Sent";

export function MessagesPage() {
  const settings = useMailSettings();
  const outbox = useOutbox();
  const failed = settings.error ?? outbox.error;
  if (failed) return <Failed error={failed} retry={() => void settings.refetch()} />;
  if (!settings.data || !outbox.data) return <Loading />;
  return (
    <Box sx={{ px: 2.75, pt: 0.5, pb: 4 }}>
      <Typography variant="h1" sx={{ mb: 1 }}>
        Messages and feeds
      </Typography>
      <Box sx={{ display: "grid", gridTemplateColumns: { xs: "1fr", md: "minmax(0, 1fr) minmax(0, 1.2fr)" }, gap: 4 }}>
        <Box>
          <MailForm key={JSON.stringify(settings.data)} settings={settings.data} />
          <Addresses />
        </Box>
        <Sent outbox={outbox.data} />
      </Box>
    </Box>
  );
}
