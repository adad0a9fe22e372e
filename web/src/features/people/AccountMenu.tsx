// Who one is, in the top bar of a server of several people, with the way to what concerns that.
import { useNavigate } from "react-router";
import { people, useWho } from "../../api/people";
import { MenuButton } from "../../components/menu/MenuButton";
import { useActions } from "../../headless/actions";
import { amongSeveral, forget } from "../../headless/presence";

export function AccountMenu() {
  const who = useWho(amongSeveral).data?.who;
  const navigate = useNavigate();
  const signOut = async () => {
    await people.signOut();
    forget();
    window.location.assign("/");
  };
  const items = !who
    ? []
    : [
        { label: "Account", run: () => navigate("/account") },
        { label: "Access tokens", run: () => navigate("/account/tokens") },
        { label: "What I share", run: () => navigate("/account/shared") },
        ...(who.role === "owner" ? [{ label: "People", run: () => navigate("/account/people") }] : []),
        { label: "Sign out", run: () => void signOut() },
      ];
  useActions(items, "everywhere");
  return who ? <MenuButton label={who.name} means="Account" items={items} sx={NAME} /> : null;
}

const NAME = {
  maxWidth: 140,
  minWidth: 0,
  flexShrink: 0,
  display: "block",
  overflow: "hidden",
  textOverflow: "ellipsis",
  whiteSpace: "nowrap",
};
