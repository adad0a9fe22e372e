// Why something was refused, under what was tried. That the passphrase was not typed again is no problem.
import Typography from "@mui/material/Typography";
import { Refusal } from "../../api/client";

export function Problem({ error }: { error: Error | null | undefined }) {
  if (!error || (error instanceof Refusal && error.kind === "confirm-first")) return null;
  return (
    <Typography role="alert" variant="body2" color="error" sx={{ mt: 0.5 }}>
      {error.message}
    </Typography>
  );
}
