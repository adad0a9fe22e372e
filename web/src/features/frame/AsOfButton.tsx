// Sets every page back to what was known on a past day.
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import ButtonBase from "@mui/material/ButtonBase";
import Popover from "@mui/material/Popover";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { useAbout } from "../../api/queries";
import { DateField, outside } from "../../components/DateField";
import { useActions } from "../../headless/actions";
import { useAsOf } from "../../headless/asOf";
import { day } from "../../headless/format";
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
  const first = about.data?.first_day ?? undefined;
  const last = about.data?.last_day ?? undefined;
  const wrong = outside(typed, first, last);
  useActions(
    [
      { keys: "t", label: "Set the date back…", run: open },
      ...(asOf ? [{ label: "Back to today", run: () => setAsOf(undefined) }] : []),
    ],
    "everywhere",
  );
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
          <DateField label="As known on" value={typed} set={setTyped} first={first} last={last} />
          <Box sx={{ display: "flex", justifyContent: "flex-end", gap: 1 }}>
            <Button
              onClick={() => {
                setAsOf(undefined);
                setAnchor(null);
              }}
            >
              Today
            </Button>
            <Button type="submit" variant="contained" disabled={!typed || wrong}>
              Set back
            </Button>
          </Box>
        </Box>
      </Popover>
    </>
  );
}
