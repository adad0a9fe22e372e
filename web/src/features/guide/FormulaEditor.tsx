// Writes a formula: checked as it is typed, answered for a company and for all, saved as a measure of one's own.
import Alert from "@mui/material/Alert";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Snackbar from "@mui/material/Snackbar";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { useSearchParams } from "react-router";
import { api, type OwnMeasure } from "../../api/client";
import { useCheck, useOwnMeasures } from "../../api/queries";
import { FormulaInput } from "../../components/FormulaInput";
import { useAddressState } from "../../headless/addressState";
import { SERIF, tint } from "../../theme/theme";
import { ForCompany } from "./ForCompany";
import { Today } from "./Today";

const EXAMPLES = [
  "value_to_price > 1.05 and fy_count(net_buyback > 0, 5) >= 3",
  "own_rank(pe, 10y) < 20 and roe > 12%",
  "fcf_yield - aaa_yield",
  "pe / median_in(pe, industry)",
  "q_yoy(operating_income, 0)",
];

export function FormulaEditor() {
  const [params, setParams] = useSearchParams();
  const [written, write] = useAddressState("f");
  const own = useOwnMeasures().data ?? [];
  const edited = own.find((m) => m.id === params.get("edit"));
  const text = written ?? edited?.formula ?? "";
  const check = useCheck(text);
  const current = text.trim() !== "" && !check.isPlaceholderData ? check.data : undefined;
  const sound = current && !current.error ? text : null;
  return (
    <Box sx={{ maxWidth: 760 }}>
      <Typography variant="h1">{edited ? edited.label : "Write a formula"}</Typography>
      <Typography sx={{ fontFamily: SERIF, fontSize: 16, mb: 1.5 }}>
        Ordinary arithmetic over measures and statement items. What it answers is a measure like any other: to screen
        by, to sort by, to show in a column.
      </Typography>
      <FormulaInput value={text} change={write} error={text.trim() ? current?.error : null} large />
      {text.trim() === "" && (
        <Box sx={{ mt: 1.5 }}>
          <Typography variant="body2" sx={{ color: tint("second") }}>
            Begin to type a name, or start from one of these:
          </Typography>
          {EXAMPLES.map((e) => (
            <Button key={e} sx={{ display: "block", ml: -0.6, textAlign: "left" }} onClick={() => write(e)}>
              {e}
            </Button>
          ))}
        </Box>
      )}
      {current?.unit && (
        <Typography variant="body2" sx={{ mt: 1, color: tint("second") }}>
          Its answer is a {current.unit.replace("_", " ")}.{" "}
          {current.warnings.map((w) => (
            <span key={w} style={{ color: tint("clay") }}>
              {w}{" "}
            </span>
          ))}
        </Typography>
      )}
      {sound && <Today formula={sound} />}
      {sound && <ForCompany formula={sound} unit={current?.unit} />}
      {sound && (
        <Save
          key={edited?.id ?? ""}
          formula={sound}
          edited={edited}
          saved={(id) =>
            setParams((old) => {
              const next = new URLSearchParams(old);
              next.delete("f");
              if (id) next.set("edit", id);
              else next.delete("edit");
              return next;
            })
          }
        />
      )}
    </Box>
  );
}

function Save({
  formula,
  edited,
  saved,
}: {
  formula: string;
  edited: OwnMeasure | undefined;
  saved: (id: string | null) => void;
}) {
  const queries = useQueryClient();
  const [label, setLabel] = useState(edited?.label ?? "");
  const [id, setId] = useState(edited?.id ?? "");
  const [note, setNote] = useState(edited?.note ?? "");
  const [gone, setGone] = useState<OwnMeasure | null>(null);
  useEffect(() => {
    if (!edited)
      setId(
        label
          .toLowerCase()
          .replace(/[^a-z0-9]+/g, "_")
          .replace(/^[^a-z]+|_+$/g, "")
          .slice(0, 40),
      );
  }, [label, edited]);
  const took = (all: OwnMeasure[]) => {
    queries.setQueryData(["own-measures"], all);
    // Formulas that use it have other answers now.
    queries.invalidateQueries({
      predicate: (q) => !["own-measures", "measures", "jobs"].includes(String(q.queryKey[0])),
    });
  };
  const save = useMutation({ mutationFn: api.saveOwnMeasure, onSuccess: took });
  const remove = useMutation({ mutationFn: api.deleteOwnMeasure, onSuccess: took });
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
      <Typography variant="h2" sx={{ gridColumn: "1 / -1" }}>
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
      <TextField label="Note" value={note} onChange={(e) => setNote(e.target.value)} sx={{ gridColumn: "1 / -1" }} />
      {error && (
        <Alert severity="warning" variant="outlined" icon={false} sx={{ gridColumn: "1 / -1" }}>
          {error.message}
        </Alert>
      )}
      <Box sx={{ gridColumn: "1 / -1", display: "flex", gap: 1 }}>
        <Button
          type="submit"
          variant="contained"
          disabled={!label.trim() || !id || Boolean(unchanged) || save.isPending}
        >
          {unchanged ? "Saved" : "Save"}
        </Button>
        {edited && (
          <Button
            sx={{ color: tint("clay") }}
            onClick={() =>
              remove.mutate(edited.id, {
                onSuccess: () => {
                  setGone(edited);
                  saved(null);
                },
              })
            }
          >
            Delete
          </Button>
        )}
      </Box>
      <Snackbar
        open={gone !== null}
        autoHideDuration={8000}
        onClose={() => setGone(null)}
        message={`${gone?.label} deleted`}
        action={
          <Button
            color="inherit"
            onClick={() => {
              if (gone) save.mutate(gone, { onSuccess: () => saved(gone.id) });
              setGone(null);
            }}
          >
            Undo
          </Button>
        }
      />
    </Box>
  );
}
