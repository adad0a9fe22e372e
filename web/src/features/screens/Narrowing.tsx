// The narrowing: a ribbon that gets thinner with each step, its count on it, the part without data hatched.
import Box from "@mui/material/Box";
import { memo, useRef } from "react";
import type { Screen, ScreenAnswer } from "../../api/client";
import { count } from "../../headless/format";
import { blocksOf, criteriaOf, needOf } from "../../headless/screenState";
import { useWidth } from "../../headless/useWidth";
import { tint } from "../../theme/theme";

const TALL = 62;
const MIDDLE = 36;

function labels(screen: Screen, answer: ScreenAnswer): string[] {
  const needs = blocksOf(screen)
    .filter((b) => needOf(b) !== "all" && criteriaOf(b).length > 0)
    .map(needOf);
  return answer.steps.map((s) => {
    if (s.step === "universe") return "listed";
    if (typeof s.criterion === "number") {
      const said = answer.criteria[s.criterion]?.sentence;
      return said ? `${said.what} ${said.bound}` : s.step;
    }
    const need = needs.shift();
    return need === "any" ? "any of the block" : `${need} of the block`;
  });
}

/** Height on a root scale: a handful left of hundreds is still seen. */
const tallness = (left: number, all: number): number =>
  left === 0 ? 1.5 : Math.max(Math.sqrt(left / Math.max(all, 1)) * TALL, 5);

export const Narrowing = memo(function Narrowing({ screen, answer }: { screen: Screen; answer: ScreenAnswer }) {
  const box = useRef<HTMLDivElement>(null);
  const width = useWidth(box);
  const { steps } = answer;
  const all = steps[0]?.left ?? 0;
  const names = labels(screen, answer);
  const each = width / Math.max(steps.length, 1);
  const half = (i: number) => tallness(steps[i]?.left ?? 0, all) / 2;
  return (
    <Box ref={box} sx={{ borderBottom: `1px solid ${tint("hairline")}`, pb: 1, mb: 1.5 }}>
      <svg
        width={width}
        height={112}
        role="img"
        aria-label={steps.map((s, i) => `${names[i]}: ${count(s.left)}`).join(", ")}
      >
        <defs>
          <pattern id="hatch" width="4" height="4" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
            <line x1="0" y1="0" x2="0" y2="4" stroke={tint("faint")} strokeWidth="1" />
          </pattern>
        </defs>
        {steps.map((s, i) => {
          const [x0, x1] = [i * each, (i + 1) * each];
          const before = i === 0 ? half(0) : half(i - 1);
          const ramp = i === 0 ? x0 : x0 + Math.min(each * 0.25, 24);
          const last = i === steps.length - 1;
          const h = half(i);
          const thin = h < 11;
          return (
            <g key={i}>
              <path
                d={`M${x0} ${MIDDLE - before} L${ramp} ${MIDDLE - h} H${x1} V${MIDDLE + h} H${ramp} L${x0} ${MIDDLE + before} Z`}
                fill={last ? tint("teal") : tint("tealWash")}
              />
              <text
                x={ramp + 6}
                y={thin ? MIDDLE - h - 5 : MIDDLE + 5}
                fontSize={15}
                fontWeight={600}
                fill={last && !thin ? tint("panel") : tint("ink")}
              >
                {count(s.left)}
              </text>
              {s.no_data > 0 && (
                <>
                  <rect x={ramp + 6} y={MIDDLE + before + 3} width={10} height={8} fill="url(#hatch)" />
                  <text x={ramp + 20} y={MIDDLE + before + 11} fontSize={11} fill={tint("faint")}>
                    {count(s.no_data)} no data
                  </text>
                </>
              )}
              <foreignObject x={x0 + 4} y={80} width={each - 8} height={32}>
                <div
                  style={{
                    fontSize: 11.5,
                    lineHeight: 1.25,
                    color: tint("second"),
                    overflow: "hidden",
                    display: "-webkit-box",
                    WebkitLineClamp: 2,
                    WebkitBoxOrient: "vertical",
                  }}
                  title={names[i]}
                >
                  {names[i]}
                </div>
              </foreignObject>
            </g>
          );
        })}
      </svg>
    </Box>
  );
});
