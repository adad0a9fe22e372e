// How much each figure counts in the score.
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Popover from "@mui/material/Popover";
import Slider from "@mui/material/Slider";
import Typography from "@mui/material/Typography";
import { useState } from "react";

/** In points of a hundred, in this order: margin of safety, quality, expected return, insiders' buying. */
export const USUAL_WEIGHTS = [40, 30, 20, 10];
const LABELS = ["Margin of safety", "Quality", "Expected return", "Insiders' buying"];

export function Weighing({ weights, choose }: { weights: number[]; choose: (weights: number[]) => void }) {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const set = (i: number, to: number) => choose(weights.map((w, k) => (k === i ? to : w)));
  return (
    <>
      <Button size="small" onClick={(e) => setAnchor(e.currentTarget)} aria-haspopup="dialog" sx={{ px: 0.5 }}>
        Weights {weights.join(" · ")}
      </Button>
      <Popover
        open={anchor !== null}
        anchorEl={anchor}
        onClose={() => setAnchor(null)}
        anchorOrigin={{ vertical: "bottom", horizontal: "left" }}
      >
        <Box role="dialog" aria-label="What counts in the score" sx={{ p: 2, width: 300 }}>
          <Typography variant="body2" color="textSecondary" sx={{ mb: 1 }}>
            A company's score is the weighted mean of its ranks among those listed here.
          </Typography>
          {LABELS.map((label, i) => (
            <Box key={label}>
              <Box sx={{ display: "flex", justifyContent: "space-between", fontSize: 13 }}>
                <span id={`weight-${i}`}>{label}</span>
                <strong>{weights[i]}</strong>
              </Box>
              <Slider
                size="small"
                value={weights[i] ?? 0}
                min={0}
                max={100}
                step={5}
                onChange={(_, v) => set(i, v as number)}
                aria-labelledby={`weight-${i}`}
              />
            </Box>
          ))}
          <Button size="small" onClick={() => choose(USUAL_WEIGHTS)}>
            Back to the usual
          </Button>
        </Box>
      </Popover>
    </>
  );
}
