// What the pages of Today share: the words that lead from one to the other.
import Box from "@mui/material/Box";
import { Outlet } from "react-router";
import { useUnseen } from "../../api/following";
import { PageLinks } from "../../components/PageLinks";

export function TodayFrame() {
  const unseen = useUnseen().data ?? 0;
  const pages = [
    { path: "/today", label: "Today" },
    { path: "/today/trades", label: "Insiders' trades" },
    { path: "/today/alerts", label: "Alerts", beside: unseen > 0 && <span className="brass"> {unseen}</span> },
    { path: "/today/messages", label: "Messages and feeds" },
  ];
  return (
    <Box sx={{ height: "100%", overflowY: "auto", "@media print": { height: "auto", overflow: "visible" } }}>
      <PageLinks label="Pages of Today" pages={pages} />
      <Outlet />
    </Box>
  );
}
