// A figure, or a short dash with the reason why there is none.
import Tooltip from "@mui/material/Tooltip";
import type { Figure, Unit } from "../api/client";
import { figureText } from "../headless/format";
import { tint } from "../theme/theme";

export function FigureCell({ figure, unit, bare = false }: { figure: Figure; unit?: Unit | null; bare?: boolean }) {
  const text = figureText(figure, unit, bare);
  if (text !== null) return <span>{text}</span>;
  const reason = figure.reason ?? "not known";
  return (
    <Tooltip title={reason}>
      {/* biome-ignore lint/a11y/noNoninteractiveTabindex: the reason must be reachable by keyboard */}
      <span tabIndex={0} role="note" style={{ color: tint("faint") }} aria-label={`undefined: ${reason}`}>
        –
      </span>
    </Tooltip>
  );
}
