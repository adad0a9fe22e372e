// What the person wants to be told of.
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { lazy, Suspense, useState } from "react";
import { api, type Schemas } from "../../api/client";
import { useAlerts, useListChange } from "../../api/following";
import { Empty, Failed, Loading } from "../../components/States";
import { useActions } from "../../headless/actions";
import { day } from "../../headless/format";
import { useUndo } from "../../headless/undo";
import { tint } from "../../theme/theme";

const AlertForm = lazy(async () => ({ default: (await import("./AlertForm")).AlertForm }));

type Entry = Schemas["AlertEntry"];

export function AlertsPage() {
  const { data, error, refetch } = useAlerts();
  const [edited, edit] = useState<Entry | "new" | null>(null);
  useActions([{ keys: "n", label: "New alert", run: () => edit("new") }]);
  if (error) return <Failed error={error} retry={() => void refetch()} />;
  if (!data) return <Loading />;
  return (
    <Box sx={{ px: 2.75, pt: 0.5, pb: 4, maxWidth: 920 }}>
      <Box sx={{ display: "flex", alignItems: "baseline", gap: 2, mb: 1 }}>
        <Typography variant="h1">Alerts</Typography>
        <Typography variant="sentence" color="textSecondary" sx={{ flex: 1 }}>
          {inWords(data)}
        </Typography>
        <Button variant="contained" onClick={() => edit("new")}>
          New alert
        </Button>
      </Box>
      {data.length === 0 && (
        <Empty title="No alert yet">
          An alert tells you when something becomes true: a price, a formula, insiders who buy together, a company that
          enters a screen. It is looked at with every session that comes.
        </Empty>
      )}
      <Box component="ul" sx={{ listStyle: "none", m: 0, p: 0 }}>
        {data.map((a) => (
          <Line key={a.id} alert={a} edit={() => edit(a)} />
        ))}
      </Box>
      <Suspense>
        {edited !== null && <AlertForm alert={edited === "new" ? null : edited} all={data} close={() => edit(null)} />}
      </Suspense>
    </Box>
  );
}

const inWords = (all: Entry[]): string => {
  const waiting = all.filter((a) => !a.done && !a.problem && !a.body?.paused).length;
  return all.length === 0 ? "" : `${waiting} of ${all.length} ${waiting === 1 ? "waits" : "wait"}.`;
};

function Line({ alert, edit }: { alert: Entry; edit: () => void }) {
  const did = useUndo((s) => s.did);
  const { mutateAsync: run } = useListChange((work: () => Promise<unknown>) => work());
  const remove = () =>
    void run(() => api.deleteDocument(alert.id)).then(() =>
      did({
        what: `alert ${alert.id}`,
        removed: `"${alert.name}" deleted`,
        undo: () => void run(() => api.restoreDocument(alert.id)),
        redo: () => void run(() => api.deleteDocument(alert.id)),
      }),
    );
  const pause = () =>
    void run(async () => {
      const found = await api.document(alert.id);
      const body = { ...(found.body as Schemas["AlertBody"]), paused: !alert.body?.paused };
      const { kind, name, folder, note } = found;
      await api.saveDocument(alert.id, found.version, { kind, name, folder, note, body });
    });
  return (
    <Box
      component="li"
      data-testid="alert"
      sx={{ display: "flex", gap: 2, py: 1, borderBottom: `1px solid ${tint("hairline")}`, alignItems: "baseline" }}
    >
      <Box sx={{ flex: 1, minWidth: 0 }}>
        <b>{alert.name}</b>
        <Typography variant="body2" color="textSecondary">
          {alert.says}
        </Typography>
        {alert.problem && (
          <Typography variant="body2" sx={{ color: tint("clay") }}>
            Paused: {alert.problem}
          </Typography>
        )}
      </Box>
      <Typography variant="body2" color="textSecondary" sx={{ whiteSpace: "nowrap" }}>
        {state(alert)}
      </Typography>
      <Box sx={{ whiteSpace: "nowrap" }}>
        {alert.body && !alert.done && <Button onClick={pause}>{alert.body.paused ? "Go on" : "Pause"}</Button>}
        <Button onClick={edit}>Change</Button>
        <Button onClick={remove}>Delete</Button>
      </Box>
    </Box>
  );
}

function state({ body, done, last }: Entry): string {
  const said = last ? `last on ${day(last)}` : "has said nothing yet";
  const how = [body?.repeat === "once" ? "once" : "each time", body?.mail && "by mail too"].filter(Boolean).join(", ");
  if (done) return `done on ${last ? day(last) : ""}`;
  return body?.paused ? `paused; ${said}` : `${how}; ${said}`;
}
