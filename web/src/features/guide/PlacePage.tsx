// One place of the program: its question, what one does there, what to know.
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { Link as RouterLink, useParams } from "react-router";
import { Empty } from "../../components/States";
import { useAddress } from "../../headless/asOf";
import { tint } from "../../theme/theme";
import { PLACES } from "./places";

export function PlacePage() {
  const { place } = useParams();
  const address = useAddress();
  const found = PLACES.find((p) => p.id === place);
  if (!found) return <Empty title="There is no place of this name">Choose one on the left.</Empty>;
  const next = PLACES[PLACES.indexOf(found) + 1];
  return (
    <Box sx={{ maxWidth: 720 }}>
      <Typography variant="h1">{found.title}</Typography>
      <Typography variant="sentence" sx={{ mb: 1.5 }}>
        {found.asks}
      </Typography>
      <Box component="dl" sx={{ m: 0 }}>
        {found.does.map((d) => (
          <Box key={d.what} sx={{ py: 1, borderTop: `1px solid ${tint("hairline")}` }}>
            <Typography component="dt" sx={{ fontWeight: 600 }}>
              {d.what}
            </Typography>
            <Typography component="dd" variant="body2" sx={{ m: 0 }}>
              {d.how.charAt(0).toUpperCase() + d.how.slice(1)}
            </Typography>
          </Box>
        ))}
      </Box>
      <Typography variant="body2" sx={{ py: 1, borderTop: `1px solid ${tint("hairline")}` }}>
        <b>To know.</b> {found.know} Press ? there for its keys.
      </Typography>
      <Box sx={{ display: "flex", gap: 1, mt: 1 }}>
        <Button variant="contained" component={RouterLink} to={address(found.path)}>
          Go to {found.title}
        </Button>
        {next && (
          <Button component={RouterLink} to={address(`/guide/places/${next.id}`)}>
            Next: {next.title}
          </Button>
        )}
      </Box>
    </Box>
  );
}
