// What stands around the marks of a map.
import { memo } from "react";
import type { Schemas } from "../../../api/client";
import { inUnit } from "../../../headless/format";
import { tint } from "../../../theme/theme";
import { EDGE, type Frame, HEIGHT } from "./frame";

/** Ticks, what is measured, and the medians as dashed lines. */
export const MapAxes = memo(function MapAxes({ map, frame: f }: { map: Schemas["MapAnswer"]; frame: Frame }) {
  const bottom = HEIGHT - EDGE.bottom;
  const middle = (at: number, text: string, upright: boolean) => (
    <g>
      <line
        x1={upright ? at : EDGE.left}
        x2={upright ? at : f.width - EDGE.right}
        y1={upright ? EDGE.top : at}
        y2={upright ? bottom : at}
        stroke={tint("second")}
        strokeDasharray="2 3"
      />
      <text
        x={upright ? at + 4 : f.width - EDGE.right}
        y={upright ? EDGE.top + 8 : at - 4}
        textAnchor={upright ? "start" : "end"}
        fill={tint("ink")}
        stroke={tint("paper")}
        strokeWidth={3}
        paintOrder="stroke"
        fontSize={11}
      >
        {text}
      </text>
    </g>
  );
  return (
    <g fontSize={12} fill={tint("second")}>
      {f.x.ticks.map((t) => (
        <g key={t}>
          <line x1={f.left(t)} x2={f.left(t)} y1={EDGE.top} y2={bottom} stroke={tint("hairline")} strokeWidth={0.6} />
          <text x={f.left(t)} y={bottom + 16} textAnchor="middle">
            {inUnit(t, map.x.unit)}
          </text>
        </g>
      ))}
      {f.y.ticks.map((t) => (
        <g key={t}>
          <line
            x1={EDGE.left}
            x2={f.width - EDGE.right}
            y1={f.top(t)}
            y2={f.top(t)}
            stroke={tint("hairline")}
            strokeWidth={0.6}
          />
          <text x={EDGE.left - 6} y={f.top(t) + 4} textAnchor="end">
            {inUnit(t, map.y.unit)}
          </text>
        </g>
      ))}
      <text x={f.width / 2} y={HEIGHT - 8} textAnchor="middle">
        {map.x.label}
      </text>
      <text transform={`translate(12 ${HEIGHT / 2}) rotate(-90)`} textAnchor="middle">
        {map.y.label}
      </text>
      {typeof map.x.median === "number" &&
        middle(f.left(map.x.median), `median ${inUnit(map.x.median, map.x.unit)}`, true)}
      {typeof map.y.median === "number" &&
        middle(f.top(map.y.median), `median ${inUnit(map.y.median, map.y.unit)}`, false)}
    </g>
  );
});
