// Sets every page back to what was known on a past day.
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import ButtonBase from "@mui/material/ButtonBase";
import Popover from "@mui/material/Popover";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { useAbout } from "../../api/queries";
import { useAsOf } from "../../headless/asOf";
import { day } from "../../headless/format";
import { useKeys } from "../../headless/keys";
import { tint } from "../../theme/theme";

export function AsOfButton() {
  const about = useAbout();
  const [asOf, setAsOf] = useAsOf();
  const [anchor, setAnchor] = useState<Element | null>(null);
  const [typed, setTyped] = useState("");
  const open = () => {
    setTyped(asOf ?? about.data?.last_day ?? "");
    setAnchor(document.getElementById("as-of"));
  };
  useKeys({ t: open });
  const { first_day: first, last_day: last } = about.data ?? {};
  const wrong = typed && first && last && (typed < first || typed > last);
  const take = () => {
    if (!typed || wrong) return;
    setAsOf(typed === last ? undefined : typed);
    setAnchor(null);
  };
  return (
    <>
      <ButtonBase id="as-of" onClick={open} sx={{ display: "block", textAlign: "left", whiteSpace: "nowrap" }}>
        <Typography variant="caption" component="div" sx={{ color: tint("faint"), lineHeight: 1.2 }}>
          as known on
        </Typography>
        <Typography variant="body2" component="div" sx={{ fontWeight: 500, lineHeight: 1.25 }}>
          {asOf ? day(asOf) : last ? day(last) : "…"}
        </Typography>
      </ButtonBase>
      <Popover
        open={anchor !== null}
        anchorEl={anchor}
        onClose={() => setAnchor(null)}
        anchorOrigin={{ vertical: "bottom", horizontal: "right" }}
        transformOrigin={{ vertical: "top", horizontal: "right" }}
      >
        <Box
          component="form"
          sx={{ p: 2, width: 300 }}
          onSubmit={(e) => {
            e.preventDefault();
            take();
          }}
        >
          <Typography variant="body2" sx={{ mb: 1.5 }}>
            Everything is computed from what was public by the close of this day.
          </Typography>
          <TextField
            type="date"
            label="As known on"
            fullWidth
            autoFocus
            value={typed}
            onChange={(e) => setTyped(e.target.value)}
            error={Boolean(wrong)}
            helperText={wrong && first && last ? `The data go from ${day(first)} to ${day(last)}.` : " "}
            slotProps={{ inputLabel: { shrink: true }, htmlInput: { min: first ?? undefined, max: last ?? undefined } }}
          />
          <Box sx={{ display: "flex", justifyContent: "flex-end", gap: 1 }}>
            <Button
              onClick={() => {
                setAsOf(undefined);
                setAnchor(null);
              }}
            >
              Today
            </Button>
            <Button type="submit" variant="contained" disabled={!typed || Boolean(wrong)}>
              Set back
            </Button>
          </Box>
        </Box>
      </Popover>
    </>
  );
}
