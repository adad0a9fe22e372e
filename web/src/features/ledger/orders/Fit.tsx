// Does it fit what is held? Weights before and after, how alike prices moved, what the whole looks like: a table and one sentence.
import Box from "@mui/material/Box";
import Typography from "@mui/material/Typography";
import type { Schemas } from "../../../api/client";
import { useFit } from "../../../api/ledger";
import { Answered } from "../../../components/Answered";
import { Table } from "../../../components/Table";
import { inUnit, percent, plain } from "../../../headless/format";

type Fit = Schemas["FitAnswer"];

export default function FitSection({ asked }: { asked: Schemas["OrderRequest"] }) {
  return (
    <Answered answer={useFit(asked, true)} rows={5}>
      {(fit) => <Told fit={fit} />}
    </Answered>
  );
}

function Told({ fit }: { fit: Fit }) {
  const weights = fit.weights.filter((w) => w.after > 0.0005 || w.before > 0.0005);
  return (
    <>
      <Typography variant="sentence" component="p" sx={{ mb: 1 }}>
        {fit.sentence}
      </Typography>
      <Box sx={{ display: "grid", gridTemplateColumns: { xs: "1fr", md: "1fr 1fr" }, gap: 2, alignItems: "start" }}>
        <Table
          label="Weights"
          maxHeight={280}
          head={["Of all you hold", "Which", "Now", "After", "Limit"]}
          left={[0, 1]}
          rows={weights.map((w) => ({
            key: `${w.of} ${w.name}`,
            quiet: Math.abs(w.after - w.before) < 0.0005,
            cells: [
              w.of,
              w.name,
              percent(w.before),
              <span key="after" className={w.limit != null && w.after > w.limit ? "clay" : undefined}>
                {percent(w.after)}
              </span>,
              w.limit == null ? "" : percent(w.limit),
            ],
          }))}
        />
        <Box>
          <Table
            label="Looked through"
            head={["All companies together", "Now", "After"]}
            rows={fit.look_through.map((f) => ({
              key: f.formula,
              cells: [
                f.covers < 0.995 ? `${f.label}, known of ${percent(f.covers)}` : f.label,
                f.before == null ? "–" : inUnit(f.before, f.unit),
                f.after == null ? "–" : inUnit(f.after, f.unit),
              ],
            }))}
          />
          {fit.overlap.length > 0 && (
            <Table
              label="How alike prices moved"
              maxHeight={150}
              head={["Moved alike in 36 months", "Weight", "Correlation"]}
              rows={[
                { key: "whole", cells: [<b key="all">all together</b>, "", correlation(fit.with_whole)] },
                ...fit.overlap.map((o) => ({
                  key: o.symbol,
                  cells: [o.name, percent(o.weight), correlation(o.correlation)],
                })),
              ]}
            />
          )}
        </Box>
      </Box>
    </>
  );
}

const correlation = (r: number | null | undefined) => (r == null ? "too short" : plain(r, 2));
