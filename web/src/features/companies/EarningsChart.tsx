// Earnings per share by fiscal year, with the years ahead that are estimated.
import { useMemo } from "react";
import type { Schemas } from "../../api/client";
import { Bars } from "../../charts/Bars";
import { numberOf } from "../../headless/format";

export function EarningsChart({ years }: { years: Schemas["YearRow"][] }) {
  const bars = useMemo(
    () =>
      years.toReversed().flatMap(({ eps, estimated, fiscal_year }) => {
        const value = numberOf(eps);
        return value === null
          ? []
          : [{ label: estimated ? `${fiscal_year}\nest.` : String(fiscal_year), value, estimated }];
      }),
    [years],
  );
  if (bars.length === 0) return null;
  return <Bars label="Earnings per share by fiscal year" name="Earnings per share" unit="per_share" bars={bars} />;
}
