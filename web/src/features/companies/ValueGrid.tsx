// The grid of models and growth scenarios; extremes struck through, what is worth nothing said so.
import Box from "@mui/material/Box";
import Link from "@mui/material/Link";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import type { Own, Schemas } from "../../api/client";
import { FigureCell } from "../../components/FigureCell";
import { numberOf, percent, price } from "../../headless/format";
import { tint } from "../../theme/theme";
import { Table } from "../../components/Table";
import { type AskedCell, ValueSteps } from "./ValueSteps";

type Cell = Schemas["CellAnswer"];

const SCENARIOS: Record<string, string> = {
  past: "As in the past",
  analysts: "As analysts expect",
  sustainable: "Self-financed",
  inflation: "With inflation",
  none: "No growth",
  own: "As you assume",
};

/** A cell that has a value opens into its years. */
function CellText({ cell, open }: { cell: Cell | undefined; open: () => void }) {
  if (!cell) return <span />;
  if (numberOf(cell.value) === null) return <FigureCell figure={cell.value} />;
  return (
    <Link component="button" underline="hover" onClick={open} sx={{ color: "inherit", font: "inherit" }}>
      <CellValue cell={cell} />
    </Link>
  );
}

function CellValue({ cell }: { cell: Cell }) {
  const value = numberOf(cell.value) ?? 0;
  if (cell.status === "unweighted")
    return (
      <Box component="span" data-hint="Its scenario or model has no weight: it takes part in nothing" className="faint">
        {price(value)}
      </Box>
    );
  if (cell.status === "outlier")
    return (
      <Box component="s" data-hint="Set apart: too far from the other valuations" className="faint">
        {price(value)}
      </Box>
    );
  if (cell.status === "nothing")
    return (
      <Box component="span" data-hint={`${price(value)}: worth nothing by this model, counts as 0`} className="clay">
        nothing
      </Box>
    );
  return <span>{price(value)}</span>;
}

export function ValueGrid({ value, own }: { value: Schemas["ValueAnswer"]; own: Own }) {
  const [asked, ask] = useState<AskedCell | null>(null);
  if (value.models.length === 0) {
    return <Typography variant="body2">A fund is worth what it holds; it is not valued.</Typography>;
  }
  const opens = (m: Schemas["ModelAnswer"], scenario: string | null) => () =>
    ask({
      model: m.model,
      scenario,
      title: scenario ? `${m.label}, ${(SCENARIOS[scenario] ?? scenario).toLowerCase()}` : m.label,
    });
  const growth = (s: Schemas["ScenarioAnswer"]) => {
    const g = numberOf(s.growth);
    return g === null ? `(${s.growth.reason})` : percent(g);
  };
  return (
    <>
      <Table
        label="Valuations by model and growth scenario"
        head={[
          `Value per share, ${value.currency}`,
          ...value.scenarios.map((s) => (
            <span key={s.id}>
              {SCENARIOS[s.id] ?? s.id}
              <br />
              <span className="faint">{growth(s)}</span>
            </span>
          )),
          "One figure",
          "Mean",
        ]}
        rows={value.models.map((m) => ({
          key: m.model,
          cells: [
            m.label,
            ...value.scenarios.map((s) => (
              <CellText key={s.id} cell={m.cells.find((c) => c.scenario === s.id)} open={opens(m, s.id)} />
            )),
            <CellText
              key="alone"
              cell={m.cells.find((c) => c.scenario === null || c.scenario === undefined)}
              open={opens(m, null)}
            />,
            <b key="mean">{m.mean === null || m.mean === undefined ? "–" : price(m.mean)}</b>,
          ],
        }))}
      />
      <Box
        sx={{ display: "flex", flexWrap: "wrap", columnGap: 2.5, rowGap: 0.25, fontSize: 12.5, color: tint("second") }}
      >
        {value.starting.map((s) => (
          <span key={s.label}>
            {s.label}{" "}
            <b className="ink">
              <FigureCell
                figure={s.value}
                unit={s.unit === "percent" ? "percent" : s.unit === "per_share" ? "per_share" : "ratio"}
              />
            </b>
          </span>
        ))}
      </Box>
      <ValueSteps symbol={value.symbol} currency={value.currency} cell={asked} own={own} close={() => ask(null)} />
    </>
  );
}
