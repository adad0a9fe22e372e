// What the pages of Today share: the words that lead from one to the other.
import Box from "@mui/material/Box";
import Link from "@mui/material/Link";
import { Link as RouterLink, Outlet, useLocation } from "react-router";
import { useUnseen } from "../../api/following";
import { useAddress } from "../../headless/asOf";
import { tint } from "../../theme/theme";

const PAGES = [
  { path: "/today", label: "Today" },
  { path: "/today/trades", label: "Insiders' trades" },
  { path: "/today/alerts", label: "Alerts" },
  { path: "/today/messages", label: "Messages and feeds" },
];

export function TodayFrame() {
  const { pathname } = useLocation();
  const address = useAddress();
  const unseen = useUnseen().data ?? 0;
  return (
    <Box sx={{ height: "100%", overflowY: "auto", "@media print": { height: "auto", overflow: "visible" } }}>
      <Box
        component="nav"
        aria-label="Pages of Today"
        className="not-on-paper"
        sx={{ display: "flex", gap: 2.5, px: 2.75, pt: 1, fontSize: 13, flexWrap: "wrap" }}
      >
        {PAGES.map((p) => {
          const here = pathname === p.path;
          return (
            <Link
              key={p.path}
              component={RouterLink}
              to={address(p.path)}
              underline="none"
              aria-current={here ? "page" : undefined}
              sx={{
                fontWeight: here ? 600 : 500,
                color: tint(here ? "ink" : "second"),
                "&:hover": { color: tint("ink") },
              }}
            >
              {p.label}
              {p.path === "/today/alerts" && unseen > 0 && <span className="brass"> {unseen}</span>}
            </Link>
          );
        })}
      </Box>
      <Outlet />
    </Box>
  );
}
