/** Companies that fit beside one another. */
export const MOST_COMPARED = 6;
