// A question with two answers, or none.
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";

interface Props {
  label: string;
  value: boolean | null | undefined;
  set: (to: boolean | null) => void;
}

export function YesNo({ label, value, set }: Props) {
  return (
    <Box role="group" aria-label={label} sx={{ display: "flex", alignItems: "baseline", gap: 0.5 }}>
      <Typography variant="body2">{label}</Typography>
      {([true, false] as const).map((answer) => (
        <Button
          key={String(answer)}
          variant={value === answer ? "contained" : "outlined"}
          aria-pressed={value === answer}
          onClick={() => set(value === answer ? null : answer)}
          sx={{ minWidth: 44 }}
        >
          {answer ? "Yes" : "No"}
        </Button>
      ))}
    </Box>
  );
}
