// What a column's figures mean, how they are computed, and how they are distributed today.
import Typography from "@mui/material/Typography";
import { Distribution } from "./Distribution";

interface Props {
  label: string;
  meaning: string;
  formula: string;
}

export function MeasureCard({ label, meaning, formula }: Props) {
  return (
    <>
      <Typography variant="h3" component="p">
        {label}
      </Typography>
      <div>{meaning}</div>
      <div className="second">{formula}</div>
      <Distribution formula={formula} width={320} height={72} brief />
    </>
  );
}
