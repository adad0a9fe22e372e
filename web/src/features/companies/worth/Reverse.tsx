// What the price takes for granted: the growth that it implies beside what was and what is expected.
import Typography from "@mui/material/Typography";
import type { Schemas } from "../../../api/client";
import { FigureCell } from "../../../components/FigureCell";
import { numberOf } from "../../../headless/format";

const SCENARIOS: Record<string, string> = {
  past: "as in the past",
  analysts: "as analysts expect",
  sustainable: "as it can finance itself",
};

export function Reverse({ value: v }: { value: Schemas["ValueAnswer"] }) {
  const opens = { formula: "implied_growth", symbol: v.symbol };
  const others = v.scenarios.filter((s) => s.id in SCENARIOS && numberOf(s.growth) !== null);
  return (
    <Typography variant="body2" sx={{ mb: 1 }}>
      The price implies growth of{" "}
      <b>
        <FigureCell figure={v.implied_growth} unit="percent" opens={opens} />
      </b>{" "}
      a year
      {others.length > 0 && "; against it "}
      {others.map((s, i) => (
        <span key={s.id}>
          {i > 0 && ", "}
          <b>
            <FigureCell figure={s.growth} unit="percent" />
          </b>{" "}
          {SCENARIOS[s.id]}
        </span>
      ))}
      .
    </Typography>
  );
}
