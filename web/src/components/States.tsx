// What a list shows while it loads, when it is empty and after an error.
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Skeleton from "@mui/material/Skeleton";
import Typography from "@mui/material/Typography";
import type { ReactNode } from "react";

export function Loading({ rows = 8 }: { rows?: number }) {
  return (
    <Box role="status" aria-label="Loading" sx={{ p: 2 }}>
      {Array.from({ length: rows }, (_, i) => (
        <Skeleton key={i} height={30} sx={{ transform: "none", mb: 0.5 }} />
      ))}
    </Box>
  );
}

export function Empty({ title, children }: { title: string; children?: ReactNode }) {
  return (
    <Box sx={{ p: 4, textAlign: "center" }}>
      <Typography variant="h2" component="p">
        {title}
      </Typography>
      <Typography color="textSecondary" component="div" sx={{ mt: 1 }}>
        {children}
      </Typography>
    </Box>
  );
}

export function Failed({ error, retry }: { error: Error; retry?: () => void }) {
  return (
    <Box role="alert" sx={{ p: 3, maxWidth: 720 }}>
      <Typography variant="h2" component="p" sx={{ color: "var(--a-clay)" }}>
        That could not be answered
      </Typography>
      <Typography sx={{ mt: 1 }}>{error.message}</Typography>
      {retry && (
        <Button sx={{ mt: 1, ml: -1 }} onClick={retry}>
          Try again
        </Button>
      )}
    </Box>
  );
}
