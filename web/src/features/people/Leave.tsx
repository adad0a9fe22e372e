// Leaving the server, with all that is one's own.
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { people, useChange } from "../../api/people";
import { forget } from "../../headless/presence";
import { Problem } from "./Problem";

export function Leave({ name }: { name: string }) {
  const [typed, type] = useState<string | null>(null);
  const leave = useChange(people.leave);
  const gone = () => {
    forget();
    window.location.assign("/");
  };
  return (
    <Box component="section" aria-label="Leave">
      <Typography variant="h2">Leave</Typography>
      <Typography variant="body2" color="textSecondary" sx={{ my: 1 }}>
        Your account and all that is yours are deleted. This cannot be undone; save everything first. An owner can hand
        your screens, lists and backtests over to somebody else instead.
      </Typography>
      {typed === null && <Button onClick={() => type("")}>Delete my account…</Button>}
      {typed !== null && (
        <form
          onSubmit={(e) => {
            e.preventDefault();
            leave.mutate({}, { onSuccess: gone });
          }}
        >
          <TextField
            label={`Type ${name} to go on`}
            value={typed}
            onChange={(e) => type(e.target.value)}
            fullWidth
            autoFocus
            margin="dense"
            slotProps={{ htmlInput: { autoComplete: "off", spellCheck: false } }}
          />
          <Button
            type="submit"
            variant="contained"
            color="error"
            disabled={typed !== name}
            loading={leave.isPending}
            sx={{ mr: 1 }}
          >
            Delete everything of mine
          </Button>
          <Button onClick={() => type(null)}>Cancel</Button>
          <Problem error={leave.error} />
        </form>
      )}
    </Box>
  );
}
