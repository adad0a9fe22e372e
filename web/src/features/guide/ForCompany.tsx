// A formula's answer for a company that one chooses; it opens like every figure.
import Box from "@mui/material/Box";
import Typography from "@mui/material/Typography";
import { useQueryState } from "nuqs";
import { useState } from "react";
import { text as inAddress } from "../../headless/address";
import { useAnswer, useSearch } from "../../api/queries";
import { FindField } from "../../components/find/FindField";
import { FigureCell } from "../../components/FigureCell";
import { useAsOf } from "../../headless/asOf";

const COMPANY = inAddress.withDefault("");

export function ForCompany({
  formula,
  unit,
}: {
  formula: string | null;
  unit?: Parameters<typeof FigureCell>[0]["unit"];
}) {
  const [asOf] = useAsOf();
  const [symbol, choose] = useQueryState("company", COMPANY);
  const [text, setText] = useState("");
  const matches = useSearch(text, asOf);
  const answer = useAnswer(formula, symbol, asOf);
  const given = answer.data?.[0]?.values[0];
  return (
    <Box sx={{ mt: 2.5, display: "flex", alignItems: "center", gap: 2 }}>
      <Box sx={{ width: 280 }}>
        <FindField
          label="For which company?"
          placeholder={symbol ? `For ${symbol}; another one?` : "For which company?"}
          text={text}
          setText={setText}
          entries={(matches.data ?? []).map((c) => ({
            id: c.symbol,
            label: c.name,
            hint: c.symbol,
            group: "Companies",
            run: () => choose(c.symbol),
          }))}
          none={matches.error?.message ?? "No company of this name, symbol or ISIN"}
        />
      </Box>
      {given && (
        <Typography sx={{ fontSize: 18, fontWeight: 600 }} data-testid="answer">
          <FigureCell figure={given} unit={unit} opens={{ formula: given.formula, symbol }} />
        </Typography>
      )}
      {given && given.value === null && <span className="second">{given.reason}</span>}
      {given && (
        <Typography variant="body2" color="textDisabled">
          click the figure to open it
        </Typography>
      )}
    </Box>
  );
}
