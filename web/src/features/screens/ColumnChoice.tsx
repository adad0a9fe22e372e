// Chooses the columns of the results: any measure or formula.
import Autocomplete from "@mui/material/Autocomplete";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import { ShareButton } from "../../components/ShareButton";
import Checkbox from "@mui/material/Checkbox";
import FormControlLabel from "@mui/material/FormControlLabel";
import Popover from "@mui/material/Popover";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, type Measure } from "../../api/client";
import { useDocuments, useDocumentsChange, useReadyColumns } from "../../api/queries";
import { useAside } from "../../components/table/layout";
import { found, useChoices } from "./choices";
import { NEWS } from "./newsColumns";
import { useDelete } from "./saved/saving";

export interface ColumnProps {
  columns: string[];
  measures: Measure[];
  change: (columns: string[]) => void;
}

export function ColumnChoice({
  columns,
  measures,
  change,
  anchor,
  close,
}: ColumnProps & { anchor: Element; close: () => void }) {
  const [news, showNews] = useAside("screens", NEWS);
  return (
    <Popover
      open
      anchorEl={anchor}
      onClose={close}
      anchorOrigin={{ vertical: "bottom", horizontal: "right" }}
      transformOrigin={{ vertical: "top", horizontal: "right" }}
      slotProps={{ paper: { sx: { p: 2, width: 492 } } }}
    >
      <FormulaField columns={columns} measures={measures} change={change} />
      <FormControlLabel
        control={<Checkbox checked={news} onChange={(_, shown) => showNews(shown)} />}
        label="The newest headline, and what the sector did that day"
      />
      <Sets columns={columns} change={change} />
    </Popover>
  );
}

/** Columns of any table, with the sets that are kept. */
export function FormulaColumns(p: ColumnProps) {
  return (
    <>
      <FormulaField {...p} />
      <Sets columns={p.columns} change={p.change} />
    </>
  );
}

function FormulaField({ columns, measures, change }: ColumnProps) {
  const choices = useChoices(measures);
  const labels = new Map(choices.map(({ id, label }) => [id, label]));
  return (
    <>
      <Typography variant="body2" sx={{ mb: 1 }}>
        Any measure or formula, in the order of the table.
      </Typography>
      <Autocomplete
        multiple
        freeSolo
        size="small"
        options={[...labels.keys()]}
        filterOptions={(_, { inputValue }) => found(choices, inputValue).map(({ id }) => id)}
        renderOption={({ key, ...option }, formula) => (
          <Box component="li" key={key} {...option}>
            {labels.get(formula)}
            <Box component="span" className="second" sx={{ ml: "auto" }}>
              {formula}
            </Box>
          </Box>
        )}
        value={columns}
        onChange={(_, next) => change([...new Set(next.map((f) => f.trim()).filter(Boolean))])}
        renderInput={(params) => <TextField {...params} label="Columns" autoFocus />}
      />
    </>
  );
}

/** Sets of columns: those that ship, one's own, and keeping these as one. */
function Sets({ columns, change }: Pick<ColumnProps, "columns" | "change">) {
  const client = useQueryClient();
  const ready = useReadyColumns().data ?? [];
  const own = useDocuments("column_set").data ?? [];
  const [name, setName] = useState("");
  const save = useDocumentsChange(() => {
    const file = { kind: "column_set" as const, name: name.trim(), body: columns };
    const before = own.find((o) => o.name === file.name);
    return before ? api.saveDocument(before.id, before.version, file) : api.addDocument(file);
  });
  const [problem, setProblem] = useState<string | null>(null);
  const remove = useDelete((why) => setProblem(why.message));
  const take = (id: string) =>
    client
      .fetchQuery({ queryKey: ["document", id], queryFn: () => api.document(id) })
      .then((found) => change(found.body as string[]));
  return (
    <Box sx={{ mt: 1.5 }}>
      <Typography variant="body2" color="textSecondary">
        Or a set of them:
      </Typography>
      <Box sx={{ display: "flex", flexWrap: "wrap", ml: -0.5 }}>
        {ready.map((set) => (
          <Button key={set.name} onClick={() => change(set.columns)}>
            {set.name}
          </Button>
        ))}
      </Box>
      {own.map((set) => (
        <Box key={set.id} sx={{ display: "flex", ml: -0.5 }}>
          <Button onClick={() => void take(set.id)}>{set.name}</Button>
          <Box sx={{ flex: 1 }} />
          <ShareButton kind="column_set" name={set.name} id={set.id} />
          <Button sx={{ color: "text.secondary" }} onClick={() => remove(set)}>
            Delete
          </Button>
        </Box>
      ))}
      <Box
        component="form"
        sx={{ display: "flex", gap: 1, mt: 1 }}
        onSubmit={(e) => {
          e.preventDefault();
          save.mutate(undefined, { onSuccess: () => setName("") });
        }}
      >
        <TextField
          label="Keep these as"
          size="small"
          fullWidth
          value={name}
          onChange={(e) => setName(e.target.value)}
          error={Boolean(problem ?? save.error)}
          helperText={problem ?? save.error?.message}
        />
        <Button type="submit" disabled={!name.trim()}>
          Keep
        </Button>
      </Box>
    </Box>
  );
}
