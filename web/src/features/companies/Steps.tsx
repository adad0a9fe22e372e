// Where one is in the set one steps through; j and k move, x marks. The companies beside it are fetched before they are asked for.
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { useQueryClient } from "@tanstack/react-query";
import { useEffect } from "react";
import { useNavigate } from "react-router";
import { companyQuery } from "../../api/queries";
import { useActions } from "../../headless/actions";
import { useAddress, useAsOf } from "../../headless/asOf";
import { useMarks } from "../../headless/marks";
import { keepQuestion } from "./useQuestion";

interface Props {
  symbol: string;
  name: string;
  /** The question in view. */
  question: string;
}

export function Steps({ symbol, name, question }: Props) {
  const { walk, toggle } = useMarks();
  const navigate = useNavigate();
  const address = useAddress();
  const [asOf] = useAsOf();
  const client = useQueryClient();
  const at = walk.indexOf(symbol);
  const beside = (by: number): string | undefined => (at >= 0 ? walk[at + by] : undefined);
  const [before, after] = [beside(-1), beside(1)];
  useEffect(() => {
    for (const next of [after, before]) {
      if (next) void client.prefetchQuery(companyQuery(next, asOf));
    }
  }, [client, before, after, asOf]);
  const go = (next: string) => {
    keepQuestion(question);
    // What is chosen in the sections goes along.
    const here = new URLSearchParams(window.location.search);
    for (const own of ["figure", "since"]) here.delete(own);
    const path = `/companies/${next}`;
    navigate(here.size > 0 ? `${path}?${here}` : address(path));
  };
  useActions([
    { keys: "x", label: `Mark or unmark ${name}`, run: () => toggle([{ symbol, name }]) },
    ...(after ? [{ keys: "j", label: "Next company", run: () => go(after) }] : []),
    ...(before ? [{ keys: "k", label: "Previous company", run: () => go(before) }] : []),
  ]);
  if (at < 0 || walk.length < 2) return null;
  return (
    <Box sx={{ display: "flex", alignItems: "center", mb: 0.5, pl: 0.75 }}>
      <Typography variant="body2" color="textSecondary" sx={{ flex: 1 }}>
        {at + 1} of {walk.length}
      </Typography>
      <Button sx={STEP} disabled={!before} onClick={() => before && go(before)} aria-label="Previous company (k)">
        ‹ k
      </Button>
      <Button sx={STEP} disabled={!after} onClick={() => after && go(after)} aria-label="Next company (j)">
        j ›
      </Button>
    </Box>
  );
}

const STEP = { minWidth: 28, p: 0 };
