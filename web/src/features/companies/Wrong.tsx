// What could be wrong: red flags with their figures, and quality by pillar and component.
import Box from "@mui/material/Box";
import Typography from "@mui/material/Typography";
import type { Schemas } from "../../api/client";
import { FigureCell } from "../../components/FigureCell";
import { inUnit, numberOf, plain } from "../../headless/format";
import { tint } from "../../theme/theme";

export function Wrong({ value }: { value: Schemas["ValueAnswer"] }) {
  const raised = value.quality.flags.filter((f) => f.raised === true);
  const open = value.quality.flags.filter((f) => f.raised == null);
  return (
    <>
      {raised.map((f) => (
        <Box key={f.id} data-testid="red-flag" sx={{ borderLeft: `3px solid ${tint("clay")}`, pl: 1.25, mb: 1 }}>
          <Typography variant="body2" sx={{ fontWeight: 600 }}>
            {f.says}
          </Typography>
          <Shown figures={f.figures} symbol={value.symbol} />
        </Box>
      ))}
      {open.length > 0 && (
        <Typography variant="body2" color="textSecondary">
          Not checked: {open.map((f) => `${f.says.replace(/\.$/, "").toLowerCase()} (${f.reason})`).join("; ")}.
        </Typography>
      )}
      <Pillars value={value} />
    </>
  );
}

function Shown({ figures, symbol }: { figures: Schemas["FlagFigure"][]; symbol: string }) {
  return (
    <Typography variant="body2" color="textSecondary">
      {figures.map((f, i) => (
        <span key={f.formula}>
          {i > 0 && ", "}
          {i === 0 ? capital(f.label) : f.label}{" "}
          <strong>
            <FigureCell figure={f.figure} unit={f.unit} opens={{ formula: f.formula, symbol }} />
          </strong>
        </span>
      ))}
    </Typography>
  );
}

const capital = (words: string): string => `${words[0]?.toUpperCase()}${words.slice(1)}`;

function Pillars({ value }: { value: Schemas["ValueAnswer"] }) {
  return (
    <Box sx={{ display: "grid", gridTemplateColumns: "repeat(2, minmax(0, 1fr))", columnGap: 4, rowGap: 1.5, mt: 2 }}>
      {value.quality.pillars.map((p) => (
        <Box key={p.label} component="section" aria-label={p.label}>
          <Box
            sx={{
              display: "flex",
              justifyContent: "space-between",
              borderBottom: `1px solid ${tint("hairline")}`,
              pb: 0.25,
            }}
          >
            <Typography variant="h4" component="h3">
              {p.label}
            </Typography>
            <Typography variant="body2" sx={{ fontWeight: 600 }}>
              <FigureCell figure={rounded(p.points)} /> of {p.most}
            </Typography>
          </Box>
          {p.components.map((c) => (
            <Component key={c.label} component={c} symbol={value.symbol} />
          ))}
        </Box>
      ))}
    </Box>
  );
}

/** What it reached, what was measured, and what would change it. */
function Component({ component: c, symbol }: { component: Schemas["ComponentAnswer"]; symbol: string }) {
  const score = numberOf(c.score);
  return (
    <Box
      title={`Nothing at ${inUnit(c.anchors.floor, c.unit)}, all ${c.anchors.points} points at ${inUnit(c.anchors.full, c.unit)}`}
      sx={{
        display: "grid",
        gridTemplateColumns: "minmax(0, 1fr) 64px 56px",
        alignItems: "center",
        gap: 1,
        fontSize: 13,
        py: 0.4,
      }}
    >
      <span>{c.label}</span>
      <Box sx={{ textAlign: "right" }}>
        <FigureCell figure={c.measured} unit={c.unit} opens={{ formula: c.formula, symbol }} />
      </Box>
      <Box
        sx={{
          height: 6,
          bgcolor: score === null ? "transparent" : tint("tray"),
          border: score === null ? `1px dashed ${tint("hairline")}` : undefined,
        }}
      >
        {score !== null && (
          <Box sx={{ width: `${score * 100}%`, height: "100%", bgcolor: score > 0.5 ? tint("teal") : tint("clay") }} />
        )}
      </Box>
    </Box>
  );
}

const rounded = (f: Schemas["Figure"]): Schemas["Figure"] => {
  const n = numberOf(f);
  return n === null ? f : { value: plain(n, Math.abs(n) < 10 ? 2 : 1), reason: null };
};
