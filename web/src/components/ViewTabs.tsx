// The parts of a place as tabs under its head; arrow keys go along them.
import Box from "@mui/material/Box";
import Tab from "@mui/material/Tab";
import Tabs from "@mui/material/Tabs";
import type { ReactNode } from "react";
import { tint } from "../theme/theme";

interface Props<V extends string> {
  /** What the tabs choose among, for who cannot see it. */
  label: string;
  views: readonly { id: V; label: ReactNode }[];
  view: V;
  choose: (view: V) => void;
}

export function ViewTabs<V extends string>({ label, views, view, choose }: Props<V>) {
  return (
    <Box className="not-on-paper" sx={{ borderBottom: `1px solid ${tint("hairline")}`, mb: 1.5 }}>
      <Tabs value={view} onChange={(_, to: V) => choose(to)} aria-label={label} textColor="inherit" sx={LOW}>
        {views.map((v) => (
          <Tab key={v.id} value={v.id} label={v.label} disableRipple sx={TAB} />
        ))}
      </Tabs>
    </Box>
  );
}

const LOW = { minHeight: 36, mb: "-1px", "& .MuiTabs-indicator": { backgroundColor: tint("ink") } };

const TAB = {
  minHeight: 36,
  minWidth: 0,
  px: 1,
  mr: 1,
  flexDirection: "row",
  fontSize: 13,
  fontWeight: 600,
  textTransform: "none",
  opacity: 1,
  color: tint("second"),
  "&.Mui-selected": { color: tint("ink") },
  "&.Mui-focusVisible": { outlineOffset: -2 },
};
