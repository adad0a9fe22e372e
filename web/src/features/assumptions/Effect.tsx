// What a draft makes of the market, beside another set.
import Box from "@mui/material/Box";
import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import type { Assumptions, AssumptionSet } from "../../api/client";
import { useRank } from "../../api/queries";
import { useAsOf } from "../../headless/asOf";
import { percent, plain } from "../../headless/format";
import { tint } from "../../theme/theme";
import { returnOf } from "./fields";

interface EffectProps {
  draft: Assumptions;
  kept: Assumptions;
  all: AssumptionSet[];
  changed: boolean;
}

/** The same market under the draft and under another set, side by side. */
export function Effect({ draft, kept, all, changed }: EffectProps) {
  const others = all.map((s) => s.assumptions.name).filter((n) => changed || n !== kept.name);
  const [picked, pick] = useState<string | null>(null);
  const beside = picked ?? (changed ? kept.name : others[0]);
  const other = all.find((s) => s.assumptions.name === beside)?.assumptions;
  return (
    <Box
      sx={{
        display: "grid",
        gridTemplateColumns: "1fr 1fr",
        gap: 3,
        p: 1.5,
        border: `1px solid ${tint("hairline")}`,
        borderRadius: 1,
        bgcolor: "background.paper",
      }}
    >
      <Market set={draft} title={changed ? "As typed here" : kept.name} />
      {other ? (
        <Market
          set={other}
          title={
            <TextField
              select
              variant="standard"
              value={beside}
              onChange={(e) => pick(e.target.value)}
              slotProps={{ select: { SelectDisplayProps: { "aria-label": "Compare with which set" } } }}
            >
              {others.map((n) => (
                <MenuItem key={n} value={n}>
                  {n}
                </MenuItem>
              ))}
            </TextField>
          }
        />
      ) : (
        <Typography variant="body2" color="textSecondary" sx={{ alignSelf: "center" }}>
          Change something to see its effect on the market, next to this set.
        </Typography>
      )}
    </Box>
  );
}

function Market({ set, title }: { set: Assumptions; title: React.ReactNode }) {
  const [asOf] = useAsOf();
  const answer = useRank({
    assumptions: set,
    margin: set.margin,
    least_quality: set.least_quality,
    as_of: asOf ?? null,
    rows: 5,
  });
  const a = answer.data;
  return (
    <Box aria-live="polite">
      <Box sx={{ display: "flex", alignItems: "baseline", gap: 1, minHeight: 28 }}>
        <b>{title}</b>
        <span className="small second">
          asks {percent(set.margin)}, return {percent(returnOf(set)[1])}
        </span>
      </Box>
      {answer.error && (
        <Typography variant="body2" role="alert" color="error">
          {answer.error.message}
        </Typography>
      )}
      {a && !answer.error && (
        <>
          <Typography variant="body2">
            <Typography variant="figure" color="primary">
              {plain(a.in_range, 0)}
            </Typography>{" "}
            in range, {plain(a.close, 0)} close, {plain(a.wait, 0)} too dear, {plain(a.pass, 0)} not good enough,{" "}
            {plain(a.cannot_value, 0)} without a value
          </Typography>
          <Typography variant="body2" color="textSecondary">
            First: {a.rows.map((r) => r.name).join(" · ")}
          </Typography>
        </>
      )}
    </Box>
  );
}
