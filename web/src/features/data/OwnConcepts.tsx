// A company's own concepts that served no item: which item each is can be said once and is remembered.
import Box from "@mui/material/Box";
import MenuItem from "@mui/material/MenuItem";
import Select from "@mui/material/Select";
import Typography from "@mui/material/Typography";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { api, type Schemas } from "../../api/client";
import { tint } from "../../theme/theme";

const KEY = ["concepts"];
/** Concepts shown: filings of one company have a few, of many companies hundreds. */
const SHOWN = 12;

export function OwnConcepts({ concepts }: { concepts: Schemas["OwnFact"][] }) {
  const client = useQueryClient();
  const known = useQuery({ queryKey: KEY, queryFn: api.concepts });
  const map = useMutation({
    mutationFn: api.mapConcept,
    onSuccess: (answer) => client.setQueryData(KEY, answer),
  });
  const distinct = [...new Map(concepts.map((c) => [`${c.namespace} ${c.name}`, c])).entries()];
  if (distinct.length === 0 || !known.data) return null;
  const { items, mapped } = known.data;
  return (
    <Box sx={{ mt: 1 }} role="group" aria-label="Own concepts">
      <Typography variant="body2">
        {distinct.length === 1
          ? "One concept of the company’s own serves"
          : `${distinct.length} concepts of companies’ own serve`}{" "}
        no item. Say which it is, and import the filing again.
      </Typography>
      {distinct.slice(0, SHOWN).map(([key, c]) => (
        <Box key={key} sx={{ py: 0.5, borderTop: `1px solid ${tint("hairline")}`, fontSize: 13 }}>
          <Box sx={{ overflowWrap: "anywhere" }} title={c.namespace}>
            {c.name} <span className="second">{`${c.value} of ${c.span}`}</span>
          </Box>
          <Select
            variant="standard"
            disableUnderline
            displayEmpty
            value={mapped.find((m) => m.namespace === c.namespace && m.name === c.name)?.item ?? ""}
            onChange={(e) =>
              map.mutate({ namespace: c.namespace, name: c.name, item: e.target.value || null, negated: false })
            }
            inputProps={{ "aria-label": `Item of ${c.name}` }}
            sx={{ fontSize: 13 }}
          >
            <MenuItem value="">no item</MenuItem>
            {items.map((i) => (
              <MenuItem key={i.code} value={i.code}>
                {i.label}
              </MenuItem>
            ))}
          </Select>
        </Box>
      ))}
      {map.error && (
        <Typography role="alert" variant="body2" color="error">
          {map.error.message}
        </Typography>
      )}
    </Box>
  );
}
