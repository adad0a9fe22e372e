// The pages of a place: words that lead from one to the other.
import Box from "@mui/material/Box";
import Link from "@mui/material/Link";
import type { ReactNode } from "react";
import { Link as RouterLink, useLocation } from "react-router";
import { useAddress } from "../headless/asOf";
import { tint } from "../theme/theme";

interface Props {
  label: string;
  pages: { path: string; label: string; beside?: ReactNode }[];
}

export function PageLinks({ label, pages }: Props) {
  const { pathname } = useLocation();
  const address = useAddress();
  return (
    <Box component="nav" aria-label={label} className="not-on-paper" sx={LINE}>
      {pages.map((p) => {
        const here = pathname === p.path;
        return (
          <Link
            key={p.path}
            component={RouterLink}
            to={address(p.path)}
            underline="none"
            aria-current={here ? "page" : undefined}
            sx={{
              fontWeight: here ? 600 : 500,
              color: tint(here ? "ink" : "second"),
              "&:hover": { color: tint("ink") },
            }}
          >
            {p.label}
            {p.beside}
          </Link>
        );
      })}
    </Box>
  );
}

const LINE = { display: "flex", gap: 2.5, px: 2.75, pt: 1, fontSize: 13, flexWrap: "wrap" };
