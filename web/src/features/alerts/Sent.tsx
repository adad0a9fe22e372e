// The messages that were sent or wait, each to be read as words or as mail programs show it.
import Alert from "@mui/material/Alert";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Link from "@mui/material/Link";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import type { Schemas } from "../../api/client";
import { mail, useMailChange } from "../../api/following";
import { moment } from "../../headless/format";
import { told } from "../../headless/notice";
import { tint } from "../../theme/theme";
import { Heading } from "../today/Section";

type Mail = Schemas["MailEntry"];

export function Sent({ outbox }: { outbox: Schemas["Outbox"] }) {
  const [open, setOpen] = useState<string | null>(outbox.mails[0]?.id ?? null);
  const again = useMailChange(mail.again);
  return (
    <Box component="section" aria-label="Outbox">
      <Heading
        title="Outbox"
        count={outbox.folder && `also as .eml files in the folder ${outbox.folder} of your data`}
      />
      {outbox.failing > 0 && (
        <Alert
          severity="warning"
          variant="outlined"
          icon={false}
          sx={{ my: 1 }}
          action={
            <Button onClick={() => again.mutate(undefined)} disabled={again.isPending}>
              Try now
            </Button>
          }
        >
          {outbox.problem}. They are kept, and tried again with growing pauses.
        </Alert>
      )}
      {outbox.mails.length === 0 && (
        <Typography variant="body2" color="textSecondary" sx={{ py: 1 }}>
          No message yet. The digest, and alerts that are sent by mail, come here with the next session.
        </Typography>
      )}
      {outbox.mails.map((m) => (
        <Message key={m.id} mail={m} open={m.id === open} toggle={() => setOpen(m.id === open ? null : m.id)} />
      ))}
    </Box>
  );
}

function Message({ mail: m, open, toggle }: { mail: Mail; open: boolean; toggle: () => void }) {
  const [html, setHtml] = useState(false);
  return (
    <Box data-testid="mail" sx={{ borderBottom: `1px solid ${tint("hairline")}`, py: 0.75 }}>
      <Box sx={{ display: "flex", gap: 1.5, alignItems: "baseline" }}>
        <Link
          component="button"
          onClick={toggle}
          aria-expanded={open}
          sx={{ flex: 1, textAlign: "left", fontWeight: 600 }}
        >
          {m.subject}
        </Link>
        <span className={`small nowrap ${m.sent_at || !m.problem ? "faint" : "clay"}`}>{state(m)}</span>
      </Box>
      {open && (
        <>
          <Box sx={{ display: "flex", gap: 1, alignItems: "baseline" }}>
            <span className="second small">to {m.recipient}</span>
            <Box sx={{ flex: 1 }} />
            <Button onClick={() => setHtml(!html)}>{html ? "As text" : "As HTML"}</Button>
            <Button onClick={() => void told(mail.download(m.id))}>Save as .eml</Button>
          </Box>
          {html ? (
            <iframe
              title={m.subject}
              sandbox=""
              srcDoc={m.html}
              style={{ width: "100%", height: 420, border: `1px solid ${tint("hairline")}`, borderRadius: 4 }}
            />
          ) : (
            <Box
              component="pre"
              sx={{
                m: 0,
                p: 1.5,
                fontSize: 12,
                whiteSpace: "pre-wrap",
                bgcolor: "background.paper",
                border: `1px solid ${tint("hairline")}`,
                borderRadius: 1,
                maxHeight: 420,
                overflowY: "auto",
              }}
            >
              {m.text}
            </Box>
          )}
        </>
      )}
    </Box>
  );
}

function state(m: Mail): string {
  if (m.sent_at) return `sent ${moment(m.sent_at)}`;
  if (m.problem) return `not sent, attempt ${m.attempts}; again ${m.next_at ? moment(m.next_at) : ""}`;
  return m.next_at ? `due ${moment(m.next_at)}` : "waits";
}
