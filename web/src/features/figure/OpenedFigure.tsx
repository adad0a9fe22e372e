// A figure opened: what it is, what it was made of down to the filings, how it moved, where it stands among peers.
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Drawer from "@mui/material/Drawer";
import Link from "@mui/material/Link";
import Typography from "@mui/material/Typography";
import { Link as RouterLink } from "react-router";
import type { Schemas } from "../../api/client";
import { useExplanation, useMeasures, useStanding } from "../../api/queries";
import { Failed, Loading } from "../../components/States";
import { useAddress, useAsOf } from "../../headless/asOf";
import { day, figureText } from "../../headless/format";
import { type Opened, useOpenedFigure } from "../../headless/openedFigure";
import { tint } from "../../theme/theme";
import { Past, Peers } from "./Standing";
import { Tree } from "./Tree";

export function OpenedFigure() {
  const { opened, close } = useOpenedFigure();
  return (
    <Drawer
      anchor="right"
      open={opened !== null}
      onClose={close}
      slotProps={{
        paper: { sx: { width: "min(560px, 100vw)", bgcolor: tint("paper") }, "aria-label": "Opened figure" },
        backdrop: { sx: { bgcolor: "rgb(0 0 0 / 12%)" } },
      }}
    >
      {opened && <Sheet opened={opened} close={close} />}
    </Drawer>
  );
}

function Sheet({ opened, close }: { opened: Opened; close: () => void }) {
  const [asOf] = useAsOf();
  const explained = useExplanation(opened, asOf);
  if (explained.error) {
    return (
      <>
        <Failed error={explained.error} retry={() => explained.refetch()} />
        <Button sx={{ alignSelf: "flex-start", ml: 2 }} onClick={close}>
          Close
        </Button>
      </>
    );
  }
  if (!explained.data) return <Loading rows={10} />;
  return <Contents data={explained.data} opened={opened} close={close} />;
}

function Contents({ data, opened, close }: { data: Schemas["Explained"]; opened: Opened; close: () => void }) {
  const [asOf] = useAsOf();
  const standing = useStanding(opened, asOf);
  const measures = useMeasures().data ?? [];
  const address = useAddress();
  const { root } = data;
  const measure = measures.find((m) => m.id === /^[a-z_0-9]+/.exec(opened.formula)?.[0]);
  const currency = root.unit === "money" ? data.base : root.unit === "per_share" ? data.currency : "";
  return (
    <Box sx={{ p: 2.5, pb: 4 }}>
      <Box sx={{ display: "flex", alignItems: "baseline", gap: 1 }}>
        <Typography variant="h1" component="h2" sx={{ flex: 1 }}>
          {data.label}
        </Typography>
        <Button onClick={close} sx={{ color: tint("second"), minWidth: 0 }}>
          Close
        </Button>
      </Box>
      <Typography variant="body2" color="textSecondary">
        {data.name} · as known on {day(data.as_of)}
      </Typography>
      <Box sx={{ my: 1.25, display: "flex", alignItems: "baseline", gap: 1 }}>
        <Typography variant="largeFigure">{figureText(root, root.unit) ?? "–"}</Typography>
        <Typography color="textSecondary">
          {root.value === null || root.value === undefined ? root.reason : currency}
        </Typography>
      </Box>
      {measure && (
        <Typography variant="sentence">
          {measure.meaning}{" "}
          <Link component={RouterLink} to={address(`/guide/${measure.id}`)} underline="always">
            All about it
          </Link>
        </Typography>
      )}
      {standing.data && <Past standing={standing.data} better={measure?.better} />}
      {standing.data?.peers && root.value !== null && typeof root.value === "number" && (
        <Peers peers={standing.data.peers} today={root.value} unit={root.unit} better={measure?.better} />
      )}
      <Typography variant="h3" component="h3" sx={{ mt: 2, mb: 0.5 }}>
        What it was made of
      </Typography>
      <Tree root={root} base={data.base} currency={data.currency} />
    </Box>
  );
}
