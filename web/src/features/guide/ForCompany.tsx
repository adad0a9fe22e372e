// A formula's answer for a company that one chooses; it opens like every figure.
import Autocomplete from "@mui/material/Autocomplete";
import Box from "@mui/material/Box";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { useSearchParams } from "react-router";
import { useAnswer, useSearch } from "../../api/queries";
import { FigureCell } from "../../components/FigureCell";
import { useAsOf } from "../../headless/asOf";
import { tint } from "../../theme/theme";

export function ForCompany({
  formula,
  unit,
}: {
  formula: string | null;
  unit?: Parameters<typeof FigureCell>[0]["unit"];
}) {
  const [asOf] = useAsOf();
  const [params, setParams] = useSearchParams();
  const symbol = params.get("company") ?? "";
  const [text, setText] = useState("");
  const matches = useSearch(text, asOf);
  const answer = useAnswer(formula, symbol, asOf);
  const given = answer.data?.[0]?.values[0];
  const choose = (symbol: string) =>
    setParams(
      (old) => {
        const next = new URLSearchParams(old);
        next.set("company", symbol);
        return next;
      },
      { replace: true },
    );
  return (
    <Box sx={{ mt: 2.5, display: "flex", alignItems: "center", gap: 2 }}>
      <Autocomplete
        sx={{ width: 280 }}
        options={matches.data ?? []}
        filterOptions={(all) => all}
        getOptionLabel={(c) => `${c.name} ${c.symbol}`}
        getOptionKey={(c) => c.symbol}
        inputValue={text}
        onInputChange={(_, value, why) => why !== "reset" && setText(value)}
        onChange={(_, c) => {
          if (!c) return;
          setText(c.name);
          choose(c.symbol);
        }}
        renderInput={(params) => <TextField {...params} label={symbol ? `For ${symbol}` : "For which company?"} />}
      />
      {given && (
        <Typography sx={{ fontSize: 18, fontWeight: 600 }} data-testid="answer">
          <FigureCell figure={given} unit={unit} opens={{ formula: given.formula, symbol }} />
        </Typography>
      )}
      {given && given.value === null && <span style={{ color: tint("second") }}>{given.reason}</span>}
      {given && (
        <Typography variant="body2" sx={{ color: tint("faint") }}>
          click the figure to open it
        </Typography>
      )}
    </Box>
  );
}
