// The price as one picture that follows the hand; what one points at and what is measured lie on a canvas above it.
import Box from "@mui/material/Box";
import { type RefObject, useEffect, useRef, useState } from "react";
import { useWidth } from "../../../headless/useWidth";
import { useColours } from "../../../theme/useColours";
import { barOn, EDGE, type Price } from "./frame";
import { Pointed } from "./Pointed";
import { type At, keysOf, useHand, useWheel } from "./useHand";
import { type Drawn, PRICE, penOf, type Shown, usePainted } from "./usePainted";

interface Props extends Shown {
  symbol: string;
  /** Between which days it is measured. */
  measured: [string, string] | null;
  measure: (ends: [string, string] | null) => void;
}

export function PriceCanvas(p: Props) {
  const { price, measured, measure } = p;
  const box = useRef<HTMLDivElement>(null);
  const above = useRef<HTMLCanvasElement>(null);
  const width = useWidth(box);
  const [at, setAt] = useState<At | null>(null);
  const { canvas, view, drawn, move, moved, height } = usePainted(p, width);
  const hand = { view, drawn, move, at, setAt, measured, measure, price };
  const pointer = useHand(hand);
  useWheel(box, hand);
  useOverlay(above, { drawn, at, measured, moved, price, width, height });
  return (
    <>
      <Pointed symbol={p.symbol} price={price} months={p.months} at={at} />
      <Box
        ref={box}
        role="group"
        aria-label="Price: arrow keys walk from bar to bar, with Shift they measure, + and − zoom"
        tabIndex={0}
        onKeyDown={keysOf(hand)}
        onBlur={() => setAt(null)}
        {...pointer}
        sx={{ position: "relative", height, touchAction: "pan-y", cursor: "crosshair", userSelect: "none" }}
      >
        <canvas
          ref={canvas}
          style={{ ...LAYER, width, height }}
          role="img"
          aria-label="Price over the value band, with what happened"
        />
        <canvas ref={above} style={{ ...LAYER, width, height }} />
      </Box>
    </>
  );
}

const LAYER = { position: "absolute", inset: 0 } as const;

interface Overlay {
  drawn: RefObject<Drawn | null>;
  at: At | null;
  measured: [string, string] | null;
  /** Counts the moves: after each the picture below is another. */
  moved: number;
  price: Price;
  width: number;
  height: number;
}

/** What changes far more often than the picture: the stretch that is measured, and the line through what is pointed at. */
function useOverlay(canvas: RefObject<HTMLCanvasElement | null>, o: Overlay) {
  const { drawn, at, measured, moved, price, width, height } = o;
  const colours = useColours();
  // biome-ignore lint/correctness/useExhaustiveDependencies: after each move it is drawn anew
  useEffect(() => {
    const pen = penOf(canvas.current, width, height);
    const frame = drawn.current?.frame;
    if (!pen || !frame) return;
    const place = (day: string) => frame.x(Math.min(barOn(price.dates, day), price.dates.length - 1));
    if (measured) {
      const [from, to] = [place(measured[0]), place(measured[1])];
      pen.fillStyle = colours.brass;
      pen.globalAlpha = 0.14;
      pen.fillRect(Math.min(from, to), EDGE.top, Math.abs(to - from), PRICE - EDGE.top);
      pen.globalAlpha = 1;
    }
    if (!at) return;
    const x = frame.x(at.bar);
    pen.strokeStyle = at.mark ? colours.brass : colours.history;
    pen.lineWidth = 1;
    pen.beginPath();
    // From a mark a thread leads up to the price.
    pen.moveTo(x, at.mark ? at.mark.y - 8 : height);
    pen.lineTo(x, at.mark ? frame.y(price.close[at.bar] ?? 1) : EDGE.top);
    pen.stroke();
  }, [at, measured, moved, price, colours, width, height, canvas, drawn]);
}
