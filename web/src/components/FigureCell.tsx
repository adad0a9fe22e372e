// A figure, or a short dash with the reason why there is none; opened by a click where it says of whom it is.
import ButtonBase from "@mui/material/ButtonBase";
import Tooltip from "@mui/material/Tooltip";
import type { Figure, Unit } from "../api/client";
import { figureText } from "../headless/format";
import { type Opened, useOpenedFigure } from "../headless/openedFigure";
import { tint } from "../theme/theme";

interface Props {
  figure: Figure;
  unit?: Unit | null;
  bare?: boolean;
  /** Whose figure by which formula: then it can be opened. */
  opens?: Opened;
}

export function FigureCell({ figure, unit, bare = false, opens }: Props) {
  const text = figureText(figure, unit, bare);
  if (opens) return <Opening opens={opens} text={text} reason={figure.reason} />;
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

function Opening({ opens, text, reason }: { opens: Opened; text: string | null; reason: string | null | undefined }) {
  const { open } = useOpenedFigure();
  const why = reason ?? "not known";
  return (
    <Tooltip title={text === null ? `${why}. Open it to see what is missing.` : ""}>
      <ButtonBase
        onClick={() => open(opens)}
        aria-label={text === null ? `undefined: ${why}, open` : `${text}, open`}
        sx={{
          font: "inherit",
          color: text === null ? tint("faint") : "inherit",
          verticalAlign: "baseline",
          borderRadius: "2px",
          "&:hover": { textDecoration: "underline", textDecorationColor: tint("brass"), textUnderlineOffset: "3px" },
        }}
      >
        {text ?? "–"}
      </ButtonBase>
    </Tooltip>
  );
}
