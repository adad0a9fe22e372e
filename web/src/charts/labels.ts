// Labels at the ends of lines: none over another.

/** Pixels of a line of text. */
const LINE = 13;

/** How far labels at these heights must move so that none lies over another. */
export function apart(heights: number[]): number[] {
  const order = heights.map((_, i) => i).sort((a, b) => (heights[a] ?? 0) - (heights[b] ?? 0));
  const moved = [...heights];
  order.forEach((i, n) => {
    const above = order[n - 1];
    if (above !== undefined) moved[i] = Math.max(moved[i] ?? 0, (moved[above] ?? 0) + LINE);
  });
  // Those in the middle of a crowd stay where they are: half of the way goes up.
  const most = Math.max(...moved.map((y, i) => y - (heights[i] ?? 0)), 0) / 2;
  return moved.map((y, i) => Math.round(y - (heights[i] ?? 0) - (y > (heights[i] ?? 0) ? most : 0)));
}
