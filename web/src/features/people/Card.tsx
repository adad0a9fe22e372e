// What stands at the door: the name of the product, a sentence, and a form.
import Box from "@mui/material/Box";
import Typography from "@mui/material/Typography";
import type { ReactNode } from "react";
import { SERIF, tint } from "../../theme/theme";

interface Props {
  title: string;
  says: ReactNode;
  children: ReactNode;
}

export function Card({ title, says, children }: Props) {
  return (
    <Box component="main" sx={PAGE}>
      <Box sx={{ width: "100%", maxWidth: 400 }}>
        <Typography sx={{ fontFamily: SERIF, fontSize: 20, fontWeight: 600, mb: 4 }}>Artemon</Typography>
        <Box sx={PANEL}>
          <Typography variant="h1">{title}</Typography>
          <Typography variant="sentence" sx={{ mt: 0.5, mb: 2 }}>
            {says}
          </Typography>
          {children}
        </Box>
      </Box>
    </Box>
  );
}

const PAGE = {
  minHeight: "100vh",
  height: "100vh",
  overflowY: "auto",
  display: "flex",
  justifyContent: "center",
  alignItems: "flex-start",
  pt: { xs: 6, md: 14 },
  px: 2,
  pb: 4,
  bgcolor: tint("paper"),
};

const PANEL = { bgcolor: tint("panel"), border: `1px solid ${tint("hairline")}`, borderRadius: 1, p: 3 };
