// Whom one ranks, and what one asks of them: margin of safety, quality, weights.
import Box from "@mui/material/Box";
import Slider from "@mui/material/Slider";
import Typography from "@mui/material/Typography";
import type { Schemas } from "../../api/client";
import { day, percent, plain } from "../../headless/format";
import { tint } from "../../theme/theme";
import type { Chosen } from "./choices";
import { Weighing } from "./Weighing";
import { Whom } from "./Whom";

const LARGEST_MARGIN = 0.6;

interface Props extends Pick<Chosen, "choices" | "choose"> {
  answer: Schemas["RankAnswer"] | undefined;
}

export function Asking({ choices, choose, answer }: Props) {
  return (
    <Box
      sx={{
        display: "flex",
        flexWrap: "wrap",
        columnGap: 5,
        rowGap: 1,
        alignItems: "flex-start",
        pb: 1.5,
        borderBottom: `1px solid ${tint("hairline")}`,
      }}
    >
      <Box sx={{ minWidth: 300 }}>
        <Typography variant="h1">Candidates</Typography>
        <Whom whom={choices.whom} symbols={choices.symbols} choose={choose} />
      </Box>
      <Asked
        label="Required margin of safety"
        id="margin"
        words={percent}
        value={choices.margin}
        most={LARGEST_MARGIN}
        step={0.01}
        set={(m) => choose({ margin: Math.round(m * 1000) / 1000 })}
      />
      <Asked
        label="Minimum quality"
        id="quality"
        words={(q) => plain(q, 0)}
        value={choices.quality}
        most={100}
        step={1}
        set={(quality) => choose({ quality })}
      />
      <Box sx={{ pt: 0.25 }}>
        <Weighing weights={choices.weights} choose={(weights) => choose({ weights })} />
      </Box>
      <Box sx={{ flex: 1 }} />
      <Typography variant="body2" color="textSecondary" sx={{ pt: 0.5, textAlign: "right" }}>
        {answer && (
          <>
            as of {day(answer.as_of)}
            <br />
            {answer.assumptions} assumptions
          </>
        )}
      </Typography>
    </Box>
  );
}

interface AskedProps {
  label: string;
  id: string;
  words: (value: number) => string;
  value: number;
  most: number;
  step: number;
  set: (to: number) => void;
}

function Asked({ label, id, words, value, most, step, set }: AskedProps) {
  return (
    <Box sx={{ width: 210, pt: 0.5 }}>
      <Box sx={{ display: "flex", justifyContent: "space-between" }}>
        <Typography variant="body2" id={`${id}-label`}>
          {label}
        </Typography>
        <Typography variant="body2" sx={{ fontWeight: 600 }} data-testid={id === "margin" ? "margin" : "least-quality"}>
          {words(value)}
        </Typography>
      </Box>
      <Slider
        value={value}
        min={0}
        max={most}
        step={step}
        onChange={(_, v) => set(v as number)}
        aria-labelledby={`${id}-label`}
        getAriaValueText={words}
      />
    </Box>
  );
}
