// A figure, or a short dash with the reason why there is none; opened by a click where it says of whom it is.
import { styled } from "@mui/material/styles";
import type { Figure, Unit } from "../api/client";
import { figureText, numberOf } from "../headless/format";
import { type Opened, useOpenFigure } from "../headless/openedFigure";
import { tint } from "../theme/theme";

interface Props {
  figure: Figure;
  unit?: Unit | null;
  bare?: boolean;
  /** How its number is written, where not as its unit is everywhere. */
  written?: ((x: number) => string) | undefined;
  /** Whose figure by which formula: then it can be opened. */
  opens?: Opened;
}

// There are hundreds on a page: no component of their own beneath them.
const Plain = styled("button")({
  all: "unset",
  cursor: "pointer",
  "&:hover": { textDecoration: "underline", textDecorationColor: tint("brass"), textUnderlineOffset: "3px" },
  "&:focus-visible": { outline: `2px solid ${tint("brass")}`, outlineOffset: 2 },
  "&[data-hint]": { color: tint("faint") },
});

const Dash = styled("span")({ color: tint("faint") });

export function FigureCell({ figure, unit, bare = false, written, opens }: Props) {
  const number = numberOf(figure);
  const text = written && number !== null ? written(number) : figureText(figure, unit, bare);
  if (opens) return <Opening opens={opens} text={text} reason={figure.reason} />;
  if (text !== null) return <span>{text}</span>;
  const reason = figure.reason ?? "not known";
  return (
    <Dash tabIndex={0} role="note" data-hint={reason} aria-label={`undefined: ${reason}`}>
      –
    </Dash>
  );
}

function Opening({ opens, text, reason }: { opens: Opened; text: string | null; reason: string | null | undefined }) {
  const open = useOpenFigure();
  const why = reason ?? "not known";
  return (
    <Plain
      type="button"
      onClick={() => open(opens)}
      data-hint={text === null ? `${why}. Open it to see what is missing.` : undefined}
      aria-label={text === null ? `undefined: ${why}, open` : `${text}, open`}
    >
      {text ?? "–"}
    </Plain>
  );
}
