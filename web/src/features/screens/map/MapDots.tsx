// The marks of a map, drawn on one canvas: thousands of elements would keep the page waiting.
import { memo, useEffect, useRef } from "react";
import { type Colours, mixed } from "../../../theme/colours";
import { useColours } from "../../../theme/useColours";
import { type Dot, type Frame, HEIGHT, type One, roomFor } from "./frame";

interface Props {
  frame: Frame;
  /** Whether more of what tints them is worse. */
  dear: boolean;
  isMarked: (m: One) => boolean;
}

const ROUND = 2 * Math.PI;

export const MapDots = memo(function MapDots({ frame, dear, isMarked }: Props) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const colours = useColours();
  const { width, dots } = frame;
  useEffect(() => {
    const pen = canvas.current?.getContext("2d");
    if (!pen) return;
    const scale = window.devicePixelRatio;
    pen.setTransform(scale, 0, 0, scale, 0, 0);
    pen.clearRect(0, 0, width, HEIGHT);
    const room = roomFor(dots.length);
    pen.globalAlpha = 0.35 + 0.35 * room;
    const look = { dear, colours, edged: room > 0.6 };
    // The marked ones come last, so that nothing lies over them.
    for (const only of [false, true]) {
      for (const dot of dots) {
        if (isMarked(dot.mark) === only) drawDot(pen, dot, only, look);
      }
    }
  }, [width, dots, dear, isMarked, colours]);
  return (
    <canvas
      ref={canvas}
      width={width * window.devicePixelRatio}
      height={HEIGHT * window.devicePixelRatio}
      style={{ position: "absolute", inset: 0, width, height: HEIGHT }}
    />
  );
});

interface Look {
  dear: boolean;
  colours: Colours;
  /** Whether each has an edge: in a crowd there is no room for them. */
  edged: boolean;
}

function drawDot(pen: CanvasRenderingContext2D, dot: Dot, isMarked: boolean, { dear, colours, edged }: Look) {
  pen.beginPath();
  pen.arc(dot.left, dot.top, dot.radius, 0, ROUND);
  pen.fillStyle = colourOf(dot.rank, dear, colours);
  pen.fill();
  if (isMarked || edged) {
    pen.lineWidth = isMarked ? 2.5 : 0.7;
    pen.strokeStyle = isMarked ? colours.brass : colours.panel;
    pen.stroke();
  }
}

/** From clay over grey to teal. */
function colourOf(rank: Dot["rank"], dear: boolean, { teal, clay, history }: Colours): string {
  if (rank === undefined) return teal;
  if (rank === null) return history;
  const good = dear ? 1 - rank : rank;
  return good < 0.5 ? mixed(clay, history, 1 - 2 * good) : mixed(teal, history, 2 * good - 1);
}
