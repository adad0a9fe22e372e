// What the pages of an account share.
import Box from "@mui/material/Box";
import { Outlet } from "react-router";
import { useWho } from "../../api/people";
import { PageLinks } from "../../components/PageLinks";
import { Empty } from "../../components/States";
import { amongSeveral } from "../../headless/presence";

const OWN = [
  { path: "/account", label: "Account" },
  { path: "/account/tokens", label: "Access tokens" },
  { path: "/account/shared", label: "What I share" },
  { path: "/account/log", label: "Activity" },
];

const OF_OWNERS = [
  { path: "/account/people", label: "People" },
  { path: "/account/people/log", label: "Audit log" },
];

export function AccountFrame() {
  const who = useWho(amongSeveral).data?.who;
  if (!amongSeveral) {
    return (
      <Empty title="You are alone here">
        Nobody else can reach this server, and nobody signs in. Started with <code>artemon serve --shared</code> it is
        for several people: each with an account, and with what they share.
      </Empty>
    );
  }
  return (
    <Box sx={{ height: "100%", overflowY: "auto" }}>
      <PageLinks label="Pages of the account" pages={who?.role === "owner" ? [...OWN, ...OF_OWNERS] : OWN} />
      <Box sx={{ px: 2.75, pt: 0.5, pb: 6, maxWidth: 1080 }}>
        <Outlet />
      </Box>
    </Box>
  );
}
