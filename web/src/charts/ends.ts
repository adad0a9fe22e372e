// Labels at the ends of lines that are drawn here.

/** Moves labels, which stand `at` pixels from the top, so that they do not lie on each other. */
export function apart<T extends { at: number }>(labels: T[]): T[] {
  let before = Number.NEGATIVE_INFINITY;
  return [...labels]
    .sort((a, b) => a.at - b.at)
    .map((label) => {
      before = Math.max(label.at, before + 13);
      return { ...label, at: before };
    });
}
