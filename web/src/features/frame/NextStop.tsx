// The stop of the first steps that is next, shown while one goes about.
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Paper from "@mui/material/Paper";
import Typography from "@mui/material/Typography";
import { useLocation, useNavigate } from "react-router";
import { useAddress } from "../../headless/asOf";
import { nextStop, STOPS, useFirstSteps } from "../../headless/firstSteps";

export function NextStop() {
  const { done, finish, leave } = useFirstSteps();
  const { pathname } = useLocation();
  const navigate = useNavigate();
  const address = useAddress();
  const stop = nextStop(done);
  if (!stop) return null;
  const after = nextStop([...done, stop.id]);
  const go = () => {
    finish(stop.id);
    navigate(address(after ? after.path : "/guide/first-steps"));
  };
  return (
    <Paper
      role="region"
      aria-label="First steps"
      elevation={6}
      className="not-on-paper"
      sx={{ position: "fixed", right: 16, bottom: 16, zIndex: "snackbar", width: 340, p: 1.5 }}
    >
      <Typography variant="caption" color="textSecondary">
        First steps, {STOPS.indexOf(stop) + 1} of {STOPS.length}
      </Typography>
      <Typography sx={{ fontWeight: 600 }}>{stop.title}</Typography>
      <Typography variant="body2">{stop.task}</Typography>
      <Typography variant="body2" color="textSecondary" sx={{ mt: 0.5 }}>
        {stop.shows}
      </Typography>
      <Box sx={{ display: "flex", gap: 1, mt: 1 }}>
        <Button variant="contained" onClick={go}>
          {after ? "Done, next" : "Done"}
        </Button>
        {!pathname.startsWith(stop.path) && <Button onClick={() => navigate(address(stop.path))}>Go there</Button>}
        <Box sx={{ flex: 1 }} />
        <Button onClick={leave}>Leave</Button>
      </Box>
    </Paper>
  );
}
