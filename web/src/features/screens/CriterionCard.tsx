// One criterion: its sentence, its distribution with its bounds, what is left after it and what it costs.
import Box from "@mui/material/Box";
import ButtonBase from "@mui/material/ButtonBase";
import Typography from "@mui/material/Typography";
import { lazy, memo, Suspense } from "react";
import type { Criterion, Schemas } from "../../api/client";
import { BoundedHistogram } from "../../components/BoundedHistogram";
import { change, type Edit, remove } from "../../headless/screenState";
import { tint } from "../../theme/theme";

const Details = lazy(async () => ({ default: (await import("./CriterionDetails")).CriterionDetails }));

interface Props {
  block: number;
  at: number;
  /** Its place counted over all blocks. */
  flat: number;
  criterion: Criterion;
  result: Schemas["CriterionAnswer"] | undefined;
  left: number | undefined;
  open: boolean;
  setOpen: (flat: number | null) => void;
  edit: Edit;
}

export const CriterionCard = memo(function CriterionCard(p: Props) {
  const { criterion: c, result, open, block, at, edit } = p;
  const set = (to: Partial<Criterion>) => edit((s) => change(s, { block, at }, to));
  const drop = () => {
    p.setOpen(null);
    edit((s) => remove(s, { block, at }), "Criterion removed");
  };
  const { what, bound } = result?.sentence ?? { what: c.formula, bound: "" };
  const off = c.enabled === false;
  return (
    <Box
      data-testid="criterion"
      sx={{
        p: 1,
        pl: 1.25,
        borderBottom: `1px solid ${tint("hairline")}`,
        "&:last-child": { borderBottom: 0 },
        borderLeft: `3px solid ${open ? tint("brass") : "transparent"}`,
        opacity: off ? 0.55 : 1,
      }}
    >
      <Box sx={{ display: "flex", gap: 1 }}>
        <ButtonBase
          onClick={() => p.setOpen(open ? null : p.flat)}
          aria-expanded={open}
          sx={{ flex: 1, display: "block", textAlign: "left", minWidth: 0 }}
        >
          <Typography variant="body2" sx={{ lineHeight: 1.35 }}>
            {what} <b>{bound}</b>
            {off && " (off)"}
          </Typography>
        </ButtonBase>
        <Counts result={result} left={p.left} />
      </Box>
      {result?.error && !open && (
        <Typography variant="caption" component="p" role="alert" color="error" sx={{ mt: 0.5 }}>
          {result.error.message}
        </Typography>
      )}
      {result?.histogram && !off && (
        <Box sx={{ mt: 0.25 }}>
          <BoundedHistogram
            histogram={result.histogram}
            criterion={c}
            unit={result.unit}
            label={what}
            onBound={(b, v) => set({ [b]: v })}
          />
        </Box>
      )}
      {open && (
        <Suspense>
          <Details criterion={c} result={result} unit={result?.unit} off={off} change={set} remove={drop} />
        </Suspense>
      )}
    </Box>
  );
});

function Counts({ result, left }: { result: Props["result"]; left: number | undefined }) {
  if (!result || result.error) return null;
  const why = Object.entries(result.undefined_why).map(([reason, n]) => `${n} ${reason}`);
  const title = `${result.pass_alone} pass it alone, ${result.fail_alone} fail, ${result.undefined} without data${why.length ? `: ${why.join(", ")}` : ""}`;
  return (
    <Box data-hint={title} sx={{ textAlign: "right", whiteSpace: "nowrap", minWidth: 66 }}>
      <Typography sx={{ fontWeight: 600, lineHeight: 1.2 }}>
        {left ?? result.pass_alone} <span className="light small faint">{left === undefined ? "pass" : "left"}</span>
      </Typography>
      <Typography variant="caption" component="div" color="textDisabled" sx={{ lineHeight: 1.3 }}>
        {result.back_if_dropped > 0 ? `+${result.back_if_dropped} without` : "removes none on its own"}
      </Typography>
    </Box>
  );
}
