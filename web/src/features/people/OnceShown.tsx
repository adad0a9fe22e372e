// Something secret that is told this once: a link, a token, recovery codes.
import Alert from "@mui/material/Alert";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import type { ReactNode } from "react";
import { CopyButton } from "../../components/CopyButton";
import { tint } from "../../theme/theme";

interface Props {
  title: string;
  /** What to do with it. */
  says: ReactNode;
  secret: string;
  close: () => void;
}

export function OnceShown({ title, says, secret, close }: Props) {
  return (
    <Alert
      severity="success"
      variant="outlined"
      icon={false}
      sx={{ my: 1.5, "& .MuiAlert-message": { width: "100%" } }}
    >
      <Typography variant="h3" component="h3">
        {title}
      </Typography>
      <Box component="pre" tabIndex={0} aria-label={title} className="anywhere" sx={SECRET}>
        {secret}
      </Box>
      <Typography variant="body2" sx={{ mb: 1 }}>
        {says}
      </Typography>
      <CopyButton variant="contained" text={secret} sx={{ mr: 1 }} />
      <Button onClick={close}>I have it</Button>
    </Alert>
  );
}

const SECRET = {
  fontFamily: "inherit",
  fontSize: 14,
  fontWeight: 600,
  whiteSpace: "pre-wrap",
  m: 0,
  my: 1,
  p: 1,
  color: tint("ink"),
  bgcolor: tint("tray"),
  borderRadius: 1,
};
