// A backtest of a screen that is chosen here: the one being edited, a kept or a ready-made one.
import Dialog from "@mui/material/Dialog";
import DialogContent from "@mui/material/DialogContent";
import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { backtests } from "../../api/backtests";
import type { Schemas } from "../../api/client";
import { useDocuments, useReadyScreens } from "../../api/queries";
import { Failed, Loading } from "../../components/States";
import { readDraft } from "../../headless/screenState";
import { SettingsForm } from "./SettingsForm";

const EDITED = "edited";

export function NewBacktest({ close }: { close: () => void }) {
  const draft = readDraft();
  const ready = useReadyScreens().data ?? [];
  const kept = useDocuments("screen").data ?? [];
  const [chosen, choose] = useState<string | null>(null);
  const of = chosen ?? (draft ? EDITED : (ready[0]?.screen.name ?? ""));
  const screen: Schemas["ScreenRef"] = of === EDITED && draft ? draft : of;
  const proposed = useQuery({
    queryKey: ["proposed", screen],
    queryFn: () => backtests.proposed(screen),
    enabled: of !== "",
  });
  return (
    <Dialog open onClose={close} fullWidth maxWidth="sm">
      {proposed.error && <Failed error={proposed.error} />}
      {!proposed.data && !proposed.error && (
        <DialogContent>
          <Loading rows={6} />
        </DialogContent>
      )}
      {proposed.data && (
        <SettingsForm key={of} title="A new backtest" place={`new.${of}`} first={proposed.data} close={close}>
          <TextField select label="Screen" value={of} onChange={(e) => choose(e.target.value)}>
            {draft && <MenuItem value={EDITED}>being edited: {draft.name}</MenuItem>}
            {kept.map((k) => (
              <MenuItem key={k.id} value={k.name}>
                {k.name}
              </MenuItem>
            ))}
            {ready.map((r) => (
              <MenuItem key={r.id} value={r.id}>
                {r.screen.name}
              </MenuItem>
            ))}
          </TextField>
        </SettingsForm>
      )}
    </Dialog>
  );
}
