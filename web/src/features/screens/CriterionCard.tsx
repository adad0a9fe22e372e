// One criterion: its sentence, its distribution with its bounds, what is left after it and what it costs.
import Box from "@mui/material/Box";
import ButtonBase from "@mui/material/ButtonBase";
import Typography from "@mui/material/Typography";
import { lazy, memo, Suspense, useMemo } from "react";
import type { Criterion, Schemas } from "../../api/client";
import { BoundedHistogram } from "../../components/BoundedHistogram";
import { count } from "../../headless/format";
import { change, type Edit, move, type Place, remove } from "../../headless/screenState";
import { tint } from "../../theme/theme";
import { dragFrom, useDrop } from "./dragged";

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
  /** How many criteria each block has. */
  sizes: string;
}

/** Where a criterion is taken hold of; by keyboard it is moved by the menu. */
const GRIP = {
  position: "absolute",
  left: 2,
  top: 4,
  bottom: 4,
  width: 8,
  cursor: "grab",
  backgroundImage: `radial-gradient(${tint("history")} 1px, transparent 1.2px)`,
  backgroundSize: "4px 5px",
  opacity: 0,
  "[data-testid=criterion]:hover > &": { opacity: 0.7 },
} as const;

export const CriterionCard = memo(function CriterionCard(p: Props) {
  const { criterion: c, result, open, block, at, edit } = p;
  const set = (to: Partial<Criterion>) => edit((s) => change(s, { block, at }, to));
  const drop = () => {
    p.setOpen(null);
    edit((s) => remove(s, { block, at }), "Criterion removed");
  };
  const moves = useMemo(() => movesOf({ block, at }, p.sizes, edit, p.setOpen), [block, at, p.sizes, edit, p.setOpen]);
  const { over, onto } = useDrop((from) => {
    p.setOpen(null);
    edit((s) => move(s, from, { block, at }));
  });
  const { what, bound } = result?.sentence ?? { what: c.formula, bound: "" };
  const off = c.enabled === false;
  return (
    <Box
      data-testid="criterion"
      {...onto}
      sx={{
        boxShadow: over ? `inset 0 2px 0 ${tint("brass")}` : "none",
        position: "relative",
        p: 1,
        pl: 1.75,
        borderBottom: `1px solid ${tint("hairline")}`,
        "&:last-child": { borderBottom: 0 },
        borderLeft: `3px solid ${open ? tint("brass") : "transparent"}`,
        opacity: off ? 0.55 : 1,
      }}
    >
      <Box draggable aria-hidden onDragStart={dragFrom({ block, at })} sx={GRIP} data-testid="grip" />
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
          {c.note && !open && (
            <Typography variant="caption" component="div" color="textSecondary" noWrap>
              {c.note}
            </Typography>
          )}
        </ButtonBase>
        <Counts result={result} left={p.left} />
      </Box>
      {result?.error && !open && (
        <Typography variant="caption" component="p" role="alert" color="error" sx={{ mt: 0.5 }}>
          {result.error.message}
        </Typography>
      )}
      {result?.warnings.map((warning) => (
        <Typography key={warning} variant="caption" component="p" color="error" role="status" sx={{ mt: 0.5 }}>
          {warning}
        </Typography>
      ))}
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
          <Details
            criterion={c}
            result={result}
            unit={result?.unit}
            off={off}
            change={set}
            remove={drop}
            moves={moves}
          />
        </Suspense>
      )}
    </Box>
  );
});

/** The other places that a criterion can stand at, in words. */
function movesOf(from: Place, sizes: string, edit: Edit, setOpen: Props["setOpen"]) {
  const all = sizes.split(",").map(Number);
  const go = (label: string, to: Place) => ({
    label,
    run: () => {
      setOpen(null);
      edit((s) => move(s, from, to));
    },
  });
  const others = all.flatMap((n, block) => (block === from.block ? [] : go(`to block ${block + 1}`, { block, at: n })));
  return [
    ...(from.at > 0 ? [go("up", { ...from, at: from.at - 1 })] : []),
    ...(from.at + 1 < (all[from.block] ?? 0) ? [go("down", { ...from, at: from.at + 2 })] : []),
    ...others,
  ];
}

function Counts({ result, left }: { result: Props["result"]; left: number | undefined }) {
  if (!result || result.error) return null;
  const why = Object.entries(result.undefined_why).map(([reason, n]) => `${n} ${reason}`);
  const title = `${count(result.pass_alone)} pass it alone, ${count(result.fail_alone)} fail, ${count(result.undefined)} without data${why.length ? `: ${why.join(", ")}` : ""}`;
  return (
    <Box data-hint={title} sx={{ textAlign: "right", whiteSpace: "nowrap", minWidth: 66 }}>
      <Typography sx={{ fontWeight: 600, lineHeight: 1.2 }}>
        {count(left ?? result.pass_alone)}{" "}
        <span className="light small faint">{left === undefined ? "pass" : "left"}</span>
      </Typography>
      <Typography variant="caption" component="div" color="textDisabled" sx={{ lineHeight: 1.3 }}>
        +{count(result.back_if_dropped)} without
      </Typography>
    </Box>
  );
}
