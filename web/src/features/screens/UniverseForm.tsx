// Among whom the screen looks: sectors, countries, kinds, and how large and how traded.
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import MenuItem from "@mui/material/MenuItem";
import Popover from "@mui/material/Popover";
import TextField from "@mui/material/TextField";
import { useState } from "react";
import type { Schemas } from "../../api/client";
import { useLists } from "../../api/following";
import { useGroups } from "../../api/queries";
import { ManyOf } from "../../components/ManyOf";
import { NumberField } from "../../components/NumberField";
import { useAsOf } from "../../headless/asOf";

interface Props {
  anchor: Element;
  universe: Schemas["ScreenUniverse"];
  base: string;
  change: (to: Partial<Schemas["ScreenUniverse"]>) => void;
  close: () => void;
}

/** The share of a day's trading that an order may be, unless somebody says otherwise. */
const MOST_SHARE = 0.01;

type Among = Schemas["ScreenUniverse"];

export function UniverseForm({ anchor, universe, base, change, close }: Props) {
  const [asOf] = useAsOf();
  const groups = useGroups(asOf).data;
  const lists = useLists().data ?? [];
  const choice = (label: string, key: Grouped, all: Record<string, number> | undefined) => (
    <ManyOf label={label} chosen={universe[key] ?? []} all={all ?? {}} choose={(to) => change({ [key]: to })} />
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
        {choice("Sectors", "sectors", groups?.sectors)}
        {choice("Industries", "industries", groups?.industries)}
        {choice("Countries", "countries", groups?.countries)}
        {choice("Kinds of company (funds only if chosen)", "kinds", groups?.kinds)}
        <TextField
          select
          label="Members of an index"
          value={universe.index ?? ""}
          onChange={(e) => change({ index: e.target.value || null })}
        >
          <MenuItem value="">of any or none</MenuItem>
          {groups?.indexes.map((i) => (
            <MenuItem key={i.id} value={i.id}>
              {i.name} ({i.members})
            </MenuItem>
          ))}
        </TextField>
        <TextField
          select
          label="On a list of yours"
          value={universe.list ?? ""}
          onChange={(e) => change({ list: e.target.value || null })}
        >
          <MenuItem value="">on any or none</MenuItem>
          {lists.map((l) => (
            <MenuItem key={l.id} value={l.name}>
              {l.name} ({l.symbols.length})
            </MenuItem>
          ))}
        </TextField>
        <Named symbols={universe.symbols ?? []} change={change} />
        {floor("Minimum market value", "min_market_cap")}
        {floor("Minimum traded value a day", "min_traded_value")}
        {floor("Minimum price", "min_price")}
        <Invested order={universe.order} base={base} change={change} />
        <Button variant="contained" onClick={close}>
          Done
        </Button>
      </Box>
    </Popover>
  );
}

type Grouped = "sectors" | "industries" | "countries" | "kinds";

function Named({ symbols, change }: { symbols: string[]; change: Props["change"] }) {
  const [text, setText] = useState(symbols.join(", "));
  return (
    <TextField
      label="Only these symbols or ISINs"
      multiline
      maxRows={4}
      value={text}
      onChange={(e) => setText(e.target.value)}
      onBlur={() => change({ symbols: text.split(/[\s,;]+/).filter(Boolean) })}
      helperText="Pasted from anywhere, parted by commas or lines; empty is all."
    />
  );
}

/** An amount, and the share of a day's trading that it may be. */
function Invested({ order, base, change }: { order: Among["order"]; base: string; change: Props["change"] }) {
  return (
    <Box sx={{ display: "grid", gridTemplateColumns: "1fr 1fr", gap: 1 }}>
      <NumberField
        label="I mean to invest"
        unit={base}
        otherwise="any amount"
        width="100%"
        whenDone
        value={order?.amount}
        set={(amount) => change({ order: amount ? { max_share: MOST_SHARE, ...order, amount } : null })}
      />
      <NumberField
        label="of a day's trading"
        of="percent"
        otherwise="at most 1"
        width="100%"
        whenDone
        disabled={!order}
        value={order?.max_share}
        set={(share) => order && change({ order: { ...order, max_share: share ?? MOST_SHARE } })}
      />
    </Box>
  );
}
