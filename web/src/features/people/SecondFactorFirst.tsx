// Where everybody must have a second factor: it is turned on before anything else.
import Button from "@mui/material/Button";
import { useState } from "react";
import { useAccount } from "../../api/people";
import { Failed, Loading } from "../../components/States";
import { Card } from "./Card";
import { SecondFactor } from "./SecondFactor";

export function SecondFactorFirst({ name }: { name: string }) {
  const account = useAccount();
  const [told, tell] = useState(false);
  if (account.error) return <Failed error={account.error} retry={() => void account.refetch()} />;
  if (!account.data) return <Loading />;
  return (
    <Card title={`One more thing, ${name}`} says="Everybody who uses this server has a second factor.">
      <SecondFactor on={account.data.second_factor} codes={account.data.recovery_codes} kept={() => tell(true)} />
      {told && (
        <Button variant="contained" fullWidth size="medium" onClick={() => window.location.assign("/")} sx={{ mt: 2 }}>
          Go on
        </Button>
      )}
    </Card>
  );
}
