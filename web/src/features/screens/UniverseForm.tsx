// Among whom the screen looks: sectors, countries, kinds, and how large and how traded.
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import MenuItem from "@mui/material/MenuItem";
import Popover from "@mui/material/Popover";
import TextField from "@mui/material/TextField";
import type { Schemas } from "../../api/client";
import { useGroups } from "../../api/queries";
import { NumberField } from "../../components/NumberField";
import { useAsOf } from "../../headless/asOf";

interface Props {
  anchor: Element;
  universe: Schemas["ScreenUniverse"];
  base: string;
  change: (to: Partial<Schemas["ScreenUniverse"]>) => void;
  close: () => void;
}

export function UniverseForm({ anchor, universe, base, change, close }: Props) {
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
    <Popover open anchorEl={anchor} onClose={close} anchorOrigin={{ vertical: "bottom", horizontal: "left" }}>
      <Box sx={{ p: 2, width: 320, display: "grid", gap: 1.5 }}>
        {choice("Sectors", "sectors", groups.data?.sectors)}
        {choice("Countries", "countries", groups.data?.countries)}
        {choice("Kinds of company (funds only if chosen)", "kinds", groups.data?.kinds)}
        {floor("Minimum market value", "min_market_cap")}
        {floor("Minimum traded value a day", "min_traded_value")}
        {floor("Minimum price", "min_price")}
        <Button variant="contained" onClick={close}>
          Done
        </Button>
      </Box>
    </Popover>
  );
}
