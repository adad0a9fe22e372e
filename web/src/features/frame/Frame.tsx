// The frame: the places as words, the search, the date everything is computed as of, the tray of marked companies.
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Link from "@mui/material/Link";
import { useColorScheme } from "@mui/material/styles";
import Typography from "@mui/material/Typography";
import { lazy, Suspense, useState } from "react";
import { Link as RouterLink, Outlet, useLocation, useNavigate } from "react-router";
import { useNews, useUnseen } from "../../api/following";
import { useAbout } from "../../api/queries";
import { Hints } from "../../components/hints/Hints";
import { type Action, useActionKeys, useActions } from "../../headless/actions";
import { useAddress, useAsOf } from "../../headless/asOf";
import { useDragged } from "../../headless/dragged";
import { day } from "../../headless/format";
import { OpenFigure, useOpenedFigure } from "../../headless/openedFigure";
import { useListing } from "../../headless/listing";
import { useDeciding } from "../../headless/deciding";
import { useOrdering } from "../../headless/ordering";
import { useFirstSteps } from "../../headless/firstSteps";
import { useMarks } from "../../headless/marks";
import { amongSeveral } from "../../headless/presence";
import { useSharing } from "../../headless/sharing";
import { SERIF, tint } from "../../theme/theme";
import { AccountMenu } from "../people/AccountMenu";
import { AsOfButton } from "./AsOfButton";
import { SearchField } from "./SearchField";
import { Undone } from "./Undone";

const Tray = lazy(async () => ({ default: (await import("./Tray")).Tray }));

const Help = lazy(async () => ({ default: (await import("./Help")).Help }));

// It carries the charts, which are large.
const OpenedFigure = lazy(async () => ({ default: (await import("../figure/OpenedFigure")).OpenedFigure }));

const DropDock = lazy(async () => ({ default: (await import("../lists/DropDock")).DropDock }));

const OrderSheet = lazy(async () => ({ default: (await import("../ledger/orders/OrderSheet")).OrderSheet }));
const DecisionForm = lazy(async () => ({ default: (await import("../ledger/decisions/DecisionForm")).DecisionForm }));

const ShareDialog = lazy(async () => ({ default: (await import("../sharing/ShareDialog")).ShareDialog }));

const NextStop = lazy(async () => ({ default: (await import("./NextStop")).NextStop }));

const AddToList = lazy(async () => ({ default: (await import("../lists/AddToList")).AddToList }));

const PLACES = [
  { key: "t", path: "/today", label: "Today" },
  { key: "s", path: "/screens", label: "Screens" },
  { key: "c", path: "/candidates", label: "Candidates" },
  { key: "o", path: "/companies", label: "Companies" },
  { key: "l", path: "/lists", label: "Lists" },
  { key: "e", path: "/ledger", label: "Ledger" },
  { key: "b", path: "/backtests", label: "Backtests" },
  { key: "d", path: "/data", label: "Data" },
  { key: "h", path: "/guide", label: "Guide" },
];

const ASSUMPTIONS = { key: "a", path: "/assumptions", label: "Assumptions" };

export function Frame() {
  const [asOf, setAsOf] = useAsOf();
  const [help, setHelp] = useState(false);
  const { opened, open } = useOpenedFigure();
  const marks = useMarks((s) => s.marked.length > 0);
  const listing = useListing((s) => s.open);
  const ordering = useOrdering((s) => s.symbol !== null);
  const deciding = useDeciding((s) => s.symbol !== null);
  const sharing = useSharing((s) => s.thing !== null);
  const touring = useFirstSteps((s) => s.on);
  const dragging = useDragged((s) => s.now !== undefined);
  useActionKeys();
  useNews();
  useActions([...useGoing(), { keys: "?", label: "Show all shortcuts", run: () => setHelp(true) }], "everywhere");
  return (
    <Box
      sx={{
        height: "100vh",
        display: "flex",
        flexDirection: "column",
        "@media print": { height: "auto", display: "block" },
      }}
    >
      <Box
        component="header"
        className="not-on-paper"
        sx={{
          display: "flex",
          alignItems: "center",
          columnGap: { xs: 1.5, lg: 3 },
          // In a narrow window the places stand in a line of their own.
          flexWrap: { xs: "wrap", lg: "nowrap" },
          px: 2,
          minHeight: 48,
          pt: { xs: 0.75, lg: 0 },
          flexShrink: 0,
          borderBottom: `1px solid ${tint("hairline")}`,
          bgcolor: asOf ? tint("brassWash") : "transparent",
        }}
      >
        <Typography sx={{ fontFamily: SERIF, fontSize: 20, fontWeight: 600 }}>Artemon</Typography>
        <Places />
        <Box sx={{ flex: 1 }} />
        {asOf && (
          <Typography variant="body2" sx={{ color: tint("brass"), fontWeight: 600, whiteSpace: "nowrap" }}>
            as known on {day(asOf)} —{" "}
            <Link
              component="button"
              onClick={() => setAsOf(undefined)}
              sx={{ fontWeight: 600, verticalAlign: "baseline" }}
            >
              back to today
            </Link>
          </Typography>
        )}
        <SearchField />
        <AsOfButton />
        <Assumptions />
        <ThemeSwitch />
        {amongSeveral && <AccountMenu />}
      </Box>
      <Box component="main" sx={{ flex: 1, minHeight: 0 }}>
        <OpenFigure value={open}>
          <Outlet />
        </OpenFigure>
      </Box>
      <Suspense>
        {marks && <Tray />}
        {opened && <OpenedFigure />}
        {dragging && <DropDock />}
        {listing && <AddToList />}
        {ordering && <OrderSheet />}
        {deciding && <DecisionForm />}
        {sharing && <ShareDialog />}
        {touring && <NextStop />}
        {help && <Help close={() => setHelp(false)} />}
      </Suspense>
      <Undone />
      <Hints />
    </Box>
  );
}

/** A way to each place. */
function useGoing(): Action[] {
  const navigate = useNavigate();
  const address = useAddress();
  return [...PLACES, ASSUMPTIONS].map(({ key, path, label }) => ({
    keys: `g ${key}`,
    label: `Go to ${label}`,
    run: () => navigate(address(path)),
  }));
}

const BADGE = {
  ml: 0.5,
  px: 0.6,
  borderRadius: 2,
  fontSize: 11,
  fontWeight: 600,
  lineHeight: "16px",
  bgcolor: tint("brassWash"),
  color: tint("brass"),
  border: `1px solid ${tint("brass")}`,
};

function Places() {
  const unseen = useUnseen().data ?? 0;
  const damaged = useAbout().data?.damaged ?? 0;
  const { pathname } = useLocation();
  const address = useAddress();
  return (
    <Box
      component="nav"
      aria-label="Places"
      sx={{
        display: "flex",
        gap: 0.5,
        height: { xs: 36, lg: 48 },
        order: { xs: 1, lg: 0 },
        width: { xs: "100%", lg: "auto" },
      }}
    >
      {PLACES.map((p) => {
        const here = pathname.startsWith(p.path);
        return (
          <Link
            key={p.path}
            component={RouterLink}
            to={address(p.path)}
            aria-current={here ? "page" : undefined}
            underline="none"
            sx={{
              px: 1,
              display: "flex",
              alignItems: "center",
              fontWeight: 500,
              fontSize: 14,
              color: here ? tint("ink") : tint("second"),
              borderBottom: `2px solid ${here ? tint("ink") : "transparent"}`,
              "&:hover": { color: tint("ink") },
            }}
          >
            {p.label}
            {p.path === "/data" && damaged > 0 && (
              <Box component="span" className="clay" sx={{ ml: 0.5, fontSize: 12, fontWeight: 600 }}>
                damaged
              </Box>
            )}
            {p.path === "/today" && unseen > 0 && (
              <Box component="span" aria-label={`${unseen} new`} sx={BADGE}>
                {unseen}
              </Box>
            )}
          </Link>
        );
      })}
    </Box>
  );
}

function Assumptions() {
  const about = useAbout();
  const address = useAddress();
  return (
    <Link
      component={RouterLink}
      to={address(ASSUMPTIONS.path)}
      underline="none"
      sx={{ display: "block", lineHeight: 1.25, whiteSpace: "nowrap", maxWidth: 150, color: tint("ink") }}
    >
      <Typography variant="caption" component="div" color="textDisabled" sx={{ lineHeight: 1.2 }}>
        assumptions
        {(about.data?.repairs ?? 0) > 0 && <b className="clay"> · {about.data?.repairs} to repair</b>}
      </Typography>
      <Typography variant="body2" component="div" noWrap sx={{ fontWeight: 500, lineHeight: 1.25 }}>
        {about.data?.assumptions ?? "…"}
      </Typography>
    </Link>
  );
}

function ThemeSwitch() {
  const { mode, systemMode, setMode } = useColorScheme();
  const dark = (mode === "system" ? systemMode : mode) === "dark";
  const label = dark ? "Use the light theme" : "Use the dark theme";
  const change = () => setMode(dark ? "light" : "dark");
  useActions([{ label, run: change }], "everywhere");
  return (
    <Button onClick={change} sx={{ minWidth: 0, color: tint("second") }} aria-label={label}>
      {dark ? "Light" : "Dark"}
    </Button>
  );
}
