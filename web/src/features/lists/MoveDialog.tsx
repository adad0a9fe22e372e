// To which list a company moves: by keys what dragging does.
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Dialog from "@mui/material/Dialog";
import DialogActions from "@mui/material/DialogActions";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import Typography from "@mui/material/Typography";
import { useLists } from "../../api/following";
import { tint } from "../../theme/theme";
import type { Row } from "./columns";
import type { ListWork } from "./useListWork";

interface Props {
  from: string;
  row: Row;
  work: ListWork;
  close: () => void;
}

export function MoveDialog({ from, row, work, close }: Props) {
  const others = (useLists().data ?? []).filter((l) => l.id !== from);
  return (
    <Dialog open onClose={close} fullWidth maxWidth="xs">
      <DialogTitle>Move {row.name} to</DialogTitle>
      <DialogContent>
        {others.length === 0 && <Typography color="textSecondary">There is no other list.</Typography>}
        <Box component="ul" sx={{ listStyle: "none", m: 0, p: 0 }}>
          {others.map((l, i) => (
            <li key={l.id}>
              <Button
                fullWidth
                autoFocus={i === 0}
                onClick={() => {
                  work.move(from, l, [row.symbol], false);
                  close();
                }}
                sx={{ justifyContent: "flex-start", borderBottom: `1px solid ${tint("hairline")}`, borderRadius: 0 }}
              >
                {l.name}
                <span className="second light">&nbsp; {l.symbols.length}</span>
              </Button>
            </li>
          ))}
        </Box>
      </DialogContent>
      <DialogActions>
        <Button onClick={close}>Cancel</Button>
      </DialogActions>
    </Dialog>
  );
}
