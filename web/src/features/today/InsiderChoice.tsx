// Which insiders' purchases are told: by role, country and size; kept for the next mornings.
import Box from "@mui/material/Box";
import { useState } from "react";
import type { Schemas } from "../../api/client";
import { useSaveLayout } from "../../api/following";
import { ManyOf } from "../../components/ManyOf";
import { MenuButton } from "../../components/menu/MenuButton";
import { NumberField } from "../../components/NumberField";
import { compact } from "../../headless/format";

type Layout = Schemas["TodayLayout"];

export const ROLES: [string, string][] = [
  ["chief_executive", "chief executives"],
  ["chief_financial", "finance chiefs"],
  ["officer", "officers"],
  ["director", "directors"],
  ["large_holder", "large holders"],
  ["controlling_holder", "controlling holders"],
];

interface Props {
  layout: Layout;
  countries: string[];
  base: string;
}

export function InsiderChoice({ layout, countries, base }: Props) {
  const [open, setOpen] = useState(false);
  const save = useSaveLayout();
  const filter = layout.insiders;
  const set = (to: Partial<Schemas["InsiderFilter"]>) => save.mutate({ ...layout, insiders: { ...filter, ...to } });
  const parts = [
    filter.roles?.length
      ? `${filter.roles.length === 1 ? roleName(filter.roles[0]) : `${filter.roles.length} roles`}`
      : "",
    filter.countries?.length ? filter.countries.join(", ") : "",
    filter.least ? `${compact(filter.least)} ${base} or more` : "",
  ].filter(Boolean);
  return (
    <Box className="not-on-paper" sx={{ fontSize: 13, color: "text.secondary", ml: -0.6 }}>
      <MenuButton
        label={parts.length > 0 ? `Only ${parts.join(", ")}` : "All roles, countries and sizes"}
        means="Which purchases are told"
        items={[
          { label: open ? "Done" : "Choose…", run: () => setOpen(!open) },
          { label: "All", run: () => set({ roles: [], countries: [], least: null }) },
        ]}
        sx={{ py: 0, fontWeight: 500 }}
      />
      <span className="faint">amounts in {base}</span>
      {open && (
        <Box sx={{ display: "flex", flexWrap: "wrap", gap: 1, p: 0.6, alignItems: "flex-end" }}>
          <ManyOf
            label="Roles"
            all={Object.fromEntries(ROLES.map(([, name]) => [name, null]))}
            chosen={(filter.roles ?? []).map(roleName)}
            choose={(names) => set({ roles: names.map(roleCode) })}
          />
          <ManyOf
            label="Countries"
            all={Object.fromEntries(countries.map((c) => [c, null]))}
            chosen={filter.countries ?? []}
            choose={(to) => set({ countries: to })}
          />
          <NumberField
            label={`Minimum, ${base}`}
            value={filter.least}
            set={(least) => set({ least })}
            of="money"
            whenDone
          />
        </Box>
      )}
    </Box>
  );
}

const roleName = (code: string | undefined): string => ROLES.find(([c]) => c === code)?.[1] ?? code ?? "";
const roleCode = (name: string): string => ROLES.find(([, n]) => n === name)?.[0] ?? name;
