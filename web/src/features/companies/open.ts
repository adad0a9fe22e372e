// Opening a company from a table: its rows are then what one steps through.
import { useCallback } from "react";
import { useNavigate } from "react-router";
import { api, type ScreenList } from "../../api/client";
import { useAddress } from "../../headless/asOf";
import { useMarks } from "../../headless/marks";

type Open = (row: { symbol: string }) => void;

/** Opens a company; those that pass the screen, or have the symbols given, are stepped through. */
export function useOpenCompany(among: ScreenList | (() => Promise<string[]>)): Open {
  const navigate = useNavigate();
  const address = useAddress();
  const stepThrough = useMarks((s) => s.stepThrough);
  return useCallback(
    (row) => {
      navigate(address(`/companies/${row.symbol}`));
      const symbols = typeof among === "function" ? among() : api.screenSymbols(among);
      // Without them the company opens all the same, with nothing to step through.
      symbols.then(stepThrough, () => stepThrough([]));
    },
    [navigate, address, among, stepThrough],
  );
}
