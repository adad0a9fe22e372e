// The digest as it would be now.
import Button from "@mui/material/Button";
import Dialog from "@mui/material/Dialog";
import DialogActions from "@mui/material/DialogActions";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import type { Schemas } from "../../api/client";
import { useDigest } from "../../api/following";
import { Failed, Loading } from "../../components/States";
import { LetterView } from "./LetterView";

export function Preview({ settings, close }: { settings: Schemas["DigestSettings"]; close: () => void }) {
  const { data, error } = useDigest(settings);
  return (
    <Dialog open onClose={close} fullWidth maxWidth="sm">
      <DialogTitle>{data?.subject ?? "The digest"}</DialogTitle>
      <DialogContent>
        {error ? <Failed error={error} /> : data ? <LetterView letter={data} /> : <Loading />}
      </DialogContent>
      <DialogActions>
        <Button onClick={close}>Close</Button>
      </DialogActions>
    </Dialog>
  );
}
