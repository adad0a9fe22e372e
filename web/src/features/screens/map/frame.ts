// Where on a map something stands, in pixels.
import type { Schemas } from "../../../api/client";
import { ranks, type Scale, scaleOf } from "../../../headless/scale";

export type One = Schemas["MapMark"];

export const HEIGHT = 470;
export const EDGE = { left: 64, right: 16, top: 14, bottom: 44 };

export interface Frame {
  width: number;
  x: Scale;
  y: Scale;
  left: (v: number) => number;
  top: (v: number) => number;
  /** Of the marks, in their order. */
  dots: Dot[];
}

/** A mark as it is drawn. */
export interface Dot {
  mark: One;
  left: number;
  top: number;
  radius: number;
  /** Its rank by what tints it, from 0 to 1; null where that is not known, undefined where nothing does. */
  rank: number | null | undefined;
}

export function frameOf(map: Schemas["MapAnswer"], width: number): Frame {
  const [x, y] = [scaleOf(map.marks.map((m) => m.x)), scaleOf(map.marks.map((m) => m.y))];
  const left = (v: number) => EDGE.left + x.at(v) * (width - EDGE.left - EDGE.right);
  const top = (v: number) => HEIGHT - EDGE.bottom - y.at(v) * (HEIGHT - EDGE.top - EDGE.bottom);
  const sizes = ranks(map.marks.map((m) => m.size));
  const tints = ranks(map.marks.map((m) => m.tint));
  const room = roomFor(map.marks.length);
  const dots = map.marks.map((mark, i) => ({
    mark,
    left: left(mark.x),
    top: top(mark.y),
    radius: room * (map.size ? 3 + 6 * (sizes[i] ?? 0) : 4),
    rank: map.tint ? (tints[i] ?? null) : undefined,
  }));
  return { width, x, y, left, top, dots };
}

/** Marks that have room at full size; the more there are, the smaller each is. */
const ROOMY = 500;
const SMALLEST = 0.4;

/** How much of its size a mark keeps among so many, at most 1. */
export const roomFor = (marks: number): number => Math.min(Math.max(Math.sqrt(ROOMY / marks), SMALLEST), 1);

/** Pixels beside a mark at which it is still meant. */
const NEAR = 3;

/** The mark at a point, the one on top where several are. */
export const dotAt = ({ dots }: Frame, [x, y]: [number, number]): Dot | undefined =>
  dots.findLast((d) => Math.hypot(d.left - x, d.top - y) <= d.radius + NEAR);

/** Those in a box between two corners. */
export const dotsWithin = ({ dots }: Frame, [a, b]: [number, number], [c, d]: [number, number]): One[] =>
  dots.filter(({ left, top }) => (left - a) * (left - c) <= 0 && (top - b) * (top - d) <= 0).map(({ mark }) => mark);

/** Names that are written at most, and where there is a crowd; pixels of a letter and of a line. */
const NAMES = 24;
const CROWD = 100;
const NAMES_IN_A_CROWD = 8;
const LETTER = 6.2;
const LINE = 13;

/** Those whose names have room: marked ones first, then in the screen's order. */
export function withRoom({ dots, width }: Frame, isMarked: (m: One) => boolean): Dot[] {
  const kept: Dot[] = [];
  const half = ({ mark }: Dot) => (mark.name.length * LETTER) / 2;
  const clear = (a: Dot, b: Dot) => Math.abs(a.left - b.left) > half(a) + half(b) || Math.abs(a.top - b.top) > LINE;
  const inside = (d: Dot) => d.left > EDGE.left + half(d) && d.left < width - EDGE.right - half(d);
  const marked = dots.filter((d) => isMarked(d.mark));
  for (const d of [...marked, ...dots.filter((d) => !marked.includes(d))]) {
    if (kept.length >= (dots.length > CROWD ? NAMES_IN_A_CROWD : NAMES)) break;
    if (inside(d) && kept.every((k) => clear(k, d))) kept.push(d);
  }
  return kept;
}
