// First steps: eight stops through the invented world, each one thing done with one's own hand.
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Checkbox from "@mui/material/Checkbox";
import Link from "@mui/material/Link";
import Typography from "@mui/material/Typography";
import { Link as RouterLink, useNavigate } from "react-router";
import { useAddress } from "../../headless/asOf";
import { nextStop, STOPS, useFirstSteps } from "../../headless/firstSteps";
import { tint } from "../../theme/theme";

export function FirstSteps() {
  const { done, start, finish, again } = useFirstSteps();
  const navigate = useNavigate();
  const address = useAddress();
  const next = nextStop(done);
  const begin = () => {
    const stop = next ?? STOPS[0];
    if (!next) again();
    start();
    if (stop) navigate(address(stop.path));
  };
  return (
    <Box sx={{ maxWidth: 720 }}>
      <Typography variant="h1">First steps</Typography>
      <Typography variant="sentence" sx={{ mb: 1.5 }}>
        Eight stops, each one thing done with your own hand: from thousands of companies to an order, and to the
        question whether it works. Leave at any time; what is done stays done.
      </Typography>
      <Button variant="contained" onClick={begin} sx={{ mb: 1.5 }}>
        {done.length === 0 ? "Begin" : next ? `Go on: ${next.title}` : "Once more"}
      </Button>
      <Box component="ol" sx={{ listStyle: "none", p: 0, m: 0 }}>
        {STOPS.map((s, i) => (
          <Box
            key={s.id}
            component="li"
            sx={{
              display: "flex",
              gap: 1,
              alignItems: "flex-start",
              py: 1,
              borderTop: `1px solid ${tint("hairline")}`,
            }}
          >
            <Checkbox
              sx={{ p: 0.25 }}
              checked={done.includes(s.id)}
              onChange={() => finish(s.id)}
              slotProps={{ input: { "aria-label": `${s.title}: done` } }}
            />
            <Box>
              <Typography sx={{ fontWeight: 600 }}>
                {i + 1}. {s.title}
              </Typography>
              <Typography variant="body2">
                {s.task}{" "}
                <Link component={RouterLink} to={address(s.path)} onClick={start} underline="always">
                  Go there
                </Link>
              </Typography>
              <Typography variant="body2" color="textSecondary">
                {s.shows}
              </Typography>
            </Box>
          </Box>
        ))}
      </Box>
    </Box>
  );
}
