// The log under the price: a lane each for insiders, results, dividends with splits, and news, with marks of our own.
import type { Schemas } from "../../../api/client";
import type { Colours } from "../../../theme/colours";
import type { Lane } from "./choices";
import { barOn, EDGE, type Frame } from "./frame";
import { FONT, line } from "./paint";

export type Entry = Schemas["LogEntry"];
type Pen = CanvasRenderingContext2D;

export const LANE = 24;
const LANE_NAMES: Record<Lane, string> = {
  insiders: "insiders",
  results: "results",
  dividends: "dividends",
  news: "news",
};

/** A mark with its place. */
export interface Placed {
  entry: Entry;
  x: number;
  y: number;
}

/** The marks in view, lane by lane from `top` on. */
export function placed(entries: Entry[], dates: string[], frame: Frame, lanes: readonly Lane[], top: number): Placed[] {
  const [start, end] = [dates[frame.first] ?? "", dates.at(-1) ?? ""];
  return entries.flatMap((entry) => {
    const lane = lanes.indexOf(entry.lane);
    const x = frame.x(Math.min(barOn(dates, entry.date), dates.length - 1));
    const seen = lane >= 0 && entry.date >= start && entry.date <= end && x <= frame.width - EDGE.right;
    return seen && x >= EDGE.left ? [{ entry, x, y: top + lane * LANE + LANE / 2 }] : [];
  });
}

/** Ratios of a split stand out among dividends. */
const isSplit = ({ lane, text }: Entry): boolean => lane === "dividends" && text.startsWith("Split");

export function paintLanes(pen: Pen, marks: Placed[], frame: Frame, lanes: readonly Lane[], top: number, c: Colours) {
  pen.font = FONT;
  pen.textBaseline = "middle";
  pen.textAlign = "left";
  lanes.forEach((lane, i) => {
    pen.strokeStyle = c.hairline;
    pen.lineWidth = 0.6;
    const y = top + (i + 1) * LANE;
    line(pen, [
      [EDGE.left, y],
      [frame.width - EDGE.right, y],
    ]);
    pen.fillStyle = c.second;
    pen.fillText(LANE_NAMES[lane], frame.width - EDGE.right + 4, y - LANE / 2);
  });
  const most = largest(marks);
  for (const mark of marks) paintMark(pen, mark, most, c);
}

/** The largest of each lane: sizes are told within it. */
function largest(marks: Placed[]): Record<string, number> {
  const out: Record<string, number> = {};
  for (const { entry } of marks) {
    if (!isSplit(entry)) out[entry.lane] = Math.max(out[entry.lane] ?? 0, Math.abs(entry.size ?? 0));
  }
  return out;
}

function paintMark(pen: Pen, { entry, x, y }: Placed, most: Record<string, number>, c: Colours) {
  const { lane } = entry;
  const size = entry.size ?? 0;
  const share = Math.sqrt(Math.min(Math.abs(size) / (most[lane] || 1), 1));
  if (lane === "insiders") {
    // A purchase points up, a sale down; as large as its amount.
    const [tall, up] = [4 + 6 * share, size >= 0 ? -1 : 1];
    pen.fillStyle = size >= 0 ? c.teal : c.clay;
    pen.beginPath();
    pen.moveTo(x, y + (up * tall) / 1);
    pen.lineTo(x - 3.5, y - up * 2);
    pen.lineTo(x + 3.5, y - up * 2);
    pen.fill();
  } else if (lane === "results") {
    // A tick to the side of the surprise, as long as it is large.
    pen.strokeStyle = size >= 0 ? c.teal : c.clay;
    pen.lineWidth = 2;
    line(pen, [
      [x, y],
      [x, y - Math.sign(size || 1) * (2 + 8 * share)],
    ]);
    pen.fillStyle = c.faint;
    pen.fillRect(x - 2.5, y - 0.5, 5, 1);
  } else if (lane === "dividends") {
    pen.fillStyle = isSplit(entry) ? c.brass : c.second;
    if (isSplit(entry)) pen.fillRect(x - 3.5, y - 3.5, 7, 7);
    else {
      pen.beginPath();
      pen.arc(x, y, 1.5 + 2 * share, 0, 2 * Math.PI);
      pen.fill();
    }
  } else {
    pen.strokeStyle = c.faint;
    pen.lineWidth = 1.2;
    line(pen, [
      [x, y - 3],
      [x, y + 3],
    ]);
  }
}

/** Pixels from a mark at which it is still meant. */
const NEAR = 6;

export function markAt(marks: Placed[], x: number, y: number): Placed | undefined {
  let [found, nearest]: [Placed | undefined, number] = [undefined, NEAR];
  for (const mark of marks) {
    const away = Math.abs(mark.x - x);
    if (Math.abs(mark.y - y) <= LANE / 2 && away < nearest) [found, nearest] = [mark, away];
  }
  return found;
}
