// Keeps a formula as a measure of one's own, changes one, deletes one.
import Alert from "@mui/material/Alert";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import { ShareButton } from "../../components/ShareButton";
import Snackbar from "@mui/material/Snackbar";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useEffect, useState } from "react";
import { api, type OwnMeasure } from "../../api/client";
import { useOwnMeasuresChange } from "../../api/queries";
import { tint } from "../../theme/theme";

const WHOLE_WIDTH = { gridColumn: "1 / -1" } as const;

interface Props {
  formula: string;
  edited: OwnMeasure | undefined;
  saved: (id: string | null) => void;
  deleted: (measure: OwnMeasure) => void;
}

export function SaveMeasure({ formula, edited, saved, deleted }: Props) {
  const [label, setLabel] = useState(edited?.label ?? "");
  const [id, setId] = useState(edited?.id ?? "");
  const [note, setNote] = useState(edited?.note ?? "");
  useEffect(() => {
    if (!edited) setId(nameInFormulas(label));
  }, [label, edited]);
  const save = useOwnMeasuresChange(api.saveOwnMeasure);
  const remove = useOwnMeasuresChange(api.deleteOwnMeasure);
  const error = save.error ?? remove.error;
  const unchanged = edited && edited.formula === formula && edited.label === label && (edited.note ?? "") === note;
  return (
    <Box
      component="form"
      sx={{
        mt: 3,
        pt: 2,
        borderTop: `1px solid ${tint("hairline")}`,
        display: "grid",
        gap: 1.5,
        gridTemplateColumns: "1fr 1fr",
      }}
      onSubmit={(e) => {
        e.preventDefault();
        save.mutate({ id, label, note, unit: null, formula }, { onSuccess: () => saved(id) });
      }}
    >
      <Typography variant="h2" sx={WHOLE_WIDTH}>
        {edited ? "Change this measure of yours" : "Keep it as a measure of your own"}
      </Typography>
      <TextField label="Name" value={label} onChange={(e) => setLabel(e.target.value)} required />
      <TextField
        label="Name in formulas"
        value={id}
        onChange={(e) => setId(e.target.value)}
        disabled={Boolean(edited)}
        required
        slotProps={{ htmlInput: { spellCheck: false } }}
      />
      <TextField label="Note" value={note} onChange={(e) => setNote(e.target.value)} sx={WHOLE_WIDTH} />
      {error && (
        <Alert severity="warning" variant="outlined" icon={false} sx={WHOLE_WIDTH}>
          {error.message}
        </Alert>
      )}
      <Box sx={{ ...WHOLE_WIDTH, display: "flex", gap: 1 }}>
        <Button
          type="submit"
          variant="contained"
          disabled={!label.trim() || !id || Boolean(unchanged) || save.isPending}
        >
          {unchanged ? "Saved" : "Save"}
        </Button>
        {edited && unchanged && <ShareButton kind="measure" name={edited.id} called={edited.label} />}
        {edited && (
          <Button
            sx={{ color: tint("clay") }}
            onClick={() => remove.mutateAsync(edited.id).then(() => deleted(edited), shownAbove)}
          >
            Delete
          </Button>
        )}
      </Box>
    </Box>
  );
}

/** A refusal is shown where the form shows errors. */
const shownAbove = () => {};

/** A name that formulas can use, made of one in words. */
const nameInFormulas = (label: string) =>
  label
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, "_")
    .replace(/^[^a-z]+|_+$/g, "")
    .slice(0, 40);

/** Says that a measure was deleted, and brings it back. */
export function Deleted({ gone, close, saved }: { gone: OwnMeasure | null; close: () => void; saved: Props["saved"] }) {
  const restore = useOwnMeasuresChange(api.saveOwnMeasure);
  return (
    <Snackbar
      open={gone !== null}
      autoHideDuration={8000}
      onClose={(_, why) => why !== "clickaway" && close()}
      message={`${gone?.label} deleted`}
      action={
        <Button
          color="inherit"
          onClick={() => {
            if (gone) restore.mutate(gone, { onSuccess: () => saved(gone.id) });
            close();
          }}
        >
          Undo
        </Button>
      }
    />
  );
}
