// The end of a form at the door: what was refused, and the button.
import Alert from "@mui/material/Alert";
import Button from "@mui/material/Button";

interface Props {
  label: string;
  pending: boolean;
  problem: Error | null;
}

export function Submit({ label, pending, problem }: Props) {
  return (
    <>
      {problem && (
        <Alert severity="error" variant="outlined" icon={false} sx={{ mt: 1 }}>
          {problem.message}
        </Alert>
      )}
      <Button type="submit" variant="contained" fullWidth size="medium" loading={pending} sx={{ mt: 2 }}>
        {label}
      </Button>
    </>
  );
}
