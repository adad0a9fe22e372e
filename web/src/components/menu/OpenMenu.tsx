import Menu from "@mui/material/Menu";
import MenuItem from "@mui/material/MenuItem";
import Typography from "@mui/material/Typography";
import type { Item } from "./MenuButton";

interface Props {
  anchor: Element;
  items: Item[];
  close: () => void;
}

export function OpenMenu({ anchor, items, close }: Props) {
  return (
    <Menu open anchorEl={anchor} onClose={close}>
      {items.map(({ label, meaning, chosen, run }) => (
        <MenuItem
          key={label}
          dense={!meaning}
          selected={chosen ?? false}
          onClick={() => {
            run();
            close();
          }}
          sx={meaning ? { maxWidth: 420, whiteSpace: "normal", display: "block" } : {}}
        >
          {meaning ? <Typography sx={{ fontWeight: 600 }}>{label}</Typography> : label}
          {meaning && (
            <Typography variant="body2" color="textSecondary">
              {meaning}
            </Typography>
          )}
        </MenuItem>
      ))}
    </Menu>
  );
}
