// What a list shows while it loads, when it is empty and after an error.
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Paper from "@mui/material/Paper";
import Skeleton from "@mui/material/Skeleton";
import Typography from "@mui/material/Typography";
import type { ReactNode } from "react";
import { Refusal } from "../api/client";

export function Loading({ rows = 8 }: { rows?: number }) {
  return (
    <Box role="status" aria-label="Loading" sx={{ p: 2 }}>
      {Array.from({ length: rows }, (_, i) => (
        <Skeleton key={i} height={30} sx={{ transform: "none", mb: 0.5 }} />
      ))}
    </Box>
  );
}

/** A table that is coming. */
export function LoadingTable({ rows = 14 }: { rows?: number }) {
  return (
    <Paper role="status" aria-label="Loading" sx={{ overflow: "hidden", flex: 1 }}>
      <Box sx={{ height: 36, borderBottom: 1, borderColor: "divider" }} />
      {Array.from({ length: rows }, (_, i) => (
        <Box key={i} sx={{ ...COMING_ROW, borderBottom: 1, borderColor: "divider" }}>
          <Skeleton height={12} width={`${55 + ((i * 17) % 35)}%`} sx={{ transform: "none" }} />
          {[1, 2, 3, 4].map((cell) => (
            <Skeleton key={cell} height={12} sx={{ transform: "none" }} />
          ))}
        </Box>
      ))}
    </Paper>
  );
}

const COMING_ROW = {
  display: "grid",
  gridTemplateColumns: "2fr repeat(4, 1fr)",
  columnGap: 3,
  alignItems: "center",
  height: 31,
  px: 1.5,
};

/** A page that is coming: what stands at its left, its text, and what stands at its right. */
export function LoadingPage() {
  const lines = (many: number) =>
    Array.from({ length: many }, (_, i) => (
      <Skeleton key={i} height={14} width={`${70 + ((i * 23) % 30)}%`} sx={{ transform: "none", mb: 1.5 }} />
    ));
  return (
    <Box role="status" aria-label="Loading" sx={COMING_PAGE}>
      <Box sx={{ p: 2 }}>{lines(8)}</Box>
      <Box sx={{ p: 3 }}>
        <Skeleton height={28} width="40%" sx={{ transform: "none", mb: 1.5 }} />
        {lines(3)}
        <Skeleton height={150} sx={{ transform: "none", my: 3 }} />
        {lines(10)}
      </Box>
      <Box sx={{ p: 2 }}>
        <Skeleton height={28} width="50%" sx={{ transform: "none", mb: 2 }} />
        <Skeleton height={84} sx={{ transform: "none", mb: 2 }} />
        {lines(12)}
      </Box>
    </Box>
  );
}

const COMING_PAGE = {
  display: "grid",
  gridTemplateColumns: { xs: "0 1fr 0", lg: "220px 1fr 288px" },
  overflow: "hidden",
};

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

/** Nobody can be looked at yet: the way to the first companies. */
function NoData() {
  return (
    <Empty title="No companies yet">
      Artemon works on your own data. Import a Data Package, and they are all here.
      <Box sx={{ mt: 2 }}>
        <Button variant="contained" href="/data">
          Import data
        </Button>
      </Box>
    </Empty>
  );
}

export function Failed({ error, retry }: { error: Error; retry?: () => void }) {
  if (error instanceof Refusal && error.kind === "empty-dataset") return <NoData />;
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
