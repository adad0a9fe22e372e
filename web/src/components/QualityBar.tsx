// Quality in five parts: each pillar as wide as its points, filled as far as it was reached.
import Box from "@mui/material/Box";
import Tooltip from "@mui/material/Tooltip";
import type { Figure } from "../api/client";
import { numberOf, plain } from "../headless/format";
import { tint } from "../theme/theme";

/** Pillars in order, with their points at most. */
export const PILLARS: [string, number][] = [
  ["Growth", 25],
  ["Profitability", 25],
  ["Balance sheet", 20],
  ["Owners' cash", 20],
  ["Alignment", 10],
];

export function QualityBar({ pillars, width, height = 9 }: { pillars: Figure[]; width: number; height?: number }) {
  const words = PILLARS.map(([label, most], i) => {
    const points = numberOf(pillars[i]);
    return `${label} ${points === null ? "not known" : plain(points, 0)} of ${most}`;
  }).join(" · ");
  const free = width - (PILLARS.length - 1) * 2;
  return (
    <Tooltip title={words}>
      <Box role="img" aria-label={`Quality: ${words}`} sx={{ display: "flex", gap: "2px", width }}>
        {PILLARS.map(([label, most], i) => {
          const points = numberOf(pillars[i]);
          return (
            <Box
              key={label}
              sx={{
                width: (free * most) / 100,
                height,
                borderRadius: "1px",
                bgcolor: points === null ? "transparent" : tint("tray"),
                border: points === null ? `1px dashed ${tint("hairline")}` : undefined,
              }}
            >
              {points !== null && (
                <Box
                  sx={{
                    width: `${(100 * points) / most}%`,
                    height: "100%",
                    bgcolor: tint("teal"),
                    borderRadius: "1px",
                  }}
                />
              )}
            </Box>
          );
        })}
      </Box>
    </Tooltip>
  );
}
