// How each component of quality counts: where it scores nothing, where it scores in full, for how many points.
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import type { Assumptions, Schemas } from "../../api/client";
import { useQualityComponents } from "../../api/queries";
import { NumberField } from "../../components/NumberField";
import { tint } from "../../theme/theme";

type Component = Schemas["ComponentKind"];
type Anchors = Schemas["Anchors"];
type Own = Assumptions["quality"];

interface Props {
  own: Own;
  change: (to: Own) => void;
}

export function QualityScale({ own, change }: Props) {
  const components = useQualityComponents().data ?? [];
  const pillars = [...new Set(components.map((c) => c.pillar))];
  const set = (c: Component, anchors: Anchors) => {
    const { [c.id]: _, ...others } = own;
    change(same(anchors, c.anchors) ? others : { ...others, [c.id]: anchors });
  };
  return (
    <Box sx={{ maxWidth: 860 }}>
      <Typography variant="h2" sx={{ mt: 2.5 }}>
        What counts as quality
      </Typography>
      <Typography variant="body2" color="textSecondary" sx={{ mb: 1 }}>
        A component scores nothing at the first value, in full at the second, in a straight line between; points of a
        component that is not known are spread over the rest of its pillar.
      </Typography>
      {pillars.map((pillar) => (
        <Box key={pillar} component="section" aria-label={pillar} sx={{ mb: 1.5 }}>
          <Box sx={{ ...COLUMNS, fontSize: 12, color: tint("second"), borderBottom: `1px solid ${tint("hairline")}` }}>
            <b style={{ fontSize: 14, color: tint("ink") }}>{pillar}</b>
            <span style={HEAD}>Nothing at</span>
            <span style={HEAD}>In full at</span>
            <span style={HEAD}>Points</span>
            <span />
          </Box>
          {components
            .filter((c) => c.pillar === pillar)
            .map((c) => (
              <Row key={c.id} component={c} anchors={own[c.id] ?? c.anchors} set={(to) => set(c, to)} />
            ))}
        </Box>
      ))}
    </Box>
  );
}

const COLUMNS = {
  display: "grid",
  gridTemplateColumns: "minmax(0, 1fr) 120px 120px 104px 96px",
  columnGap: 1.5,
  alignItems: "center",
  py: 0.5,
} as const;

/** Over the digits, not over their unit. */
const HEAD = { textAlign: "right", paddingRight: 42 } as const;

const same = (a: Anchors, b: Anchors) => a.floor === b.floor && a.full === b.full && a.points === b.points;

interface RowProps {
  component: Component;
  anchors: Anchors;
  set: (to: Anchors) => void;
}

function Row({ component: c, anchors, set }: RowProps) {
  const percent = c.unit === "percent";
  const unit = c.unit === "years" ? "years" : undefined;
  const field = (what: keyof Anchors, words: string, inPercent: boolean, of?: string) => (
    <NumberField
      bare
      label={`${c.label}: ${words}`}
      value={anchors[what]}
      of={inPercent ? "percent" : "ratio"}
      {...(of && { unit: of })}
      width={what === "points" ? 104 : 120}
      set={(to) => to !== null && set({ ...anchors, [what]: to })}
    />
  );
  return (
    <Box sx={COLUMNS}>
      <span>
        {c.label}
        {c.only && <span className="second small"> · {c.only}</span>}
      </span>
      {field("floor", "nothing at", percent, unit)}
      {field("full", "in full at", percent, unit)}
      {field("points", "points", false)}
      {same(anchors, c.anchors) ? (
        <span />
      ) : (
        <Button size="small" aria-label={`${c.label}: as shipped`} onClick={() => set(c.anchors)}>
          As shipped
        </Button>
      )}
    </Box>
  );
}
