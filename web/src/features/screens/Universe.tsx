// Whom the screen looks among, as a sentence, and the form that changes it.
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Link from "@mui/material/Link";
import MenuItem from "@mui/material/MenuItem";
import Popover from "@mui/material/Popover";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import type { Schemas, Screen, ScreenAnswer } from "../../api/client";
import { useAbout, useGroups } from "../../api/queries";
import { NumberField } from "../../components/NumberField";
import { useAsOf } from "../../headless/asOf";
import { compact } from "../../headless/format";
import type { Edit } from "../../headless/screenState";
import { tint } from "../../theme/theme";

type UniverseForm = Schemas["ScreenUniverse"];

function inSentence(u: UniverseForm, base: string): string {
  const parts = [
    u.sectors?.length ? `in ${u.sectors.join(", ")}` : "in all sectors",
    u.countries?.length ? `of ${u.countries.join(", ")}` : "",
    u.kinds?.length ? `only ${u.kinds.join(", ")}` : "without funds",
    u.min_market_cap ? `worth at least ${compact(u.min_market_cap)} ${base}` : "",
    u.min_traded_value ? `trading at least ${compact(u.min_traded_value)} ${base} a day` : "",
  ];
  return parts.filter(Boolean).join(", ");
}

export function Universe({ screen, edit, answer }: { screen: Screen; edit: Edit; answer: ScreenAnswer | undefined }) {
  const [anchor, setAnchor] = useState<Element | null>(null);
  const about = useAbout();
  const universe = screen.universe ?? {};
  const base = about.data?.base ?? "";
  const undefinedFloor = answer?.universe_undefined_floor ?? 0;
  return (
    <Box sx={{ py: 1, borderTop: `1px solid ${tint("hairline")}`, borderBottom: `1px solid ${tint("hairline")}` }}>
      <Typography variant="body2">
        Of <b>{answer?.universe ?? "…"} companies</b> {inSentence(universe, base)}
        {undefinedFloor > 0 && ` (${undefinedFloor} left out: size or trading not known)`}.{" "}
        <Link
          component="button"
          sx={{ fontWeight: 600, verticalAlign: "baseline" }}
          onClick={(e) => setAnchor(e.currentTarget)}
        >
          Change
        </Link>
      </Typography>
      <Popover
        open={anchor !== null}
        anchorEl={anchor}
        onClose={() => setAnchor(null)}
        anchorOrigin={{ vertical: "bottom", horizontal: "left" }}
      >
        <Form
          universe={universe}
          base={base}
          change={(to) => edit((s) => ({ ...s, universe: { ...s.universe, ...to } }))}
          done={() => setAnchor(null)}
        />
      </Popover>
    </Box>
  );
}

function Form({
  universe,
  base,
  change,
  done,
}: {
  universe: UniverseForm;
  base: string;
  change: (to: Partial<UniverseForm>) => void;
  done: () => void;
}) {
  const [asOf] = useAsOf();
  const groups = useGroups(asOf);
  const choice = (label: string, key: "sectors" | "countries" | "kinds", all: Record<string, number> | undefined) => (
    <TextField
      select
      label={label}
      value={universe[key] ?? []}
      onChange={(e) => change({ [key]: e.target.value as unknown as string[] })}
      slotProps={{ select: { multiple: true } }}
    >
      {Object.entries(all ?? {}).map(([name, n]) => (
        <MenuItem key={name} value={name}>
          {name} ({n})
        </MenuItem>
      ))}
    </TextField>
  );
  const floor = (label: string, key: "min_market_cap" | "min_traded_value" | "min_price") => (
    <NumberField
      label={label}
      unit={base}
      otherwise="such as 50m"
      width="100%"
      whenDone
      value={universe[key]}
      set={(to) => change({ [key]: to })}
    />
  );
  return (
    <Box sx={{ p: 2, width: 320, display: "grid", gap: 1.5 }}>
      {choice("Sectors", "sectors", groups.data?.sectors)}
      {choice("Countries", "countries", groups.data?.countries)}
      {choice("Kinds (funds are out unless chosen)", "kinds", groups.data?.kinds)}
      {floor("Minimum market value", "min_market_cap")}
      {floor("Minimum traded value a day", "min_traded_value")}
      {floor("Minimum price", "min_price")}
      <Button variant="contained" onClick={done}>
        Done
      </Button>
    </Box>
  );
}
