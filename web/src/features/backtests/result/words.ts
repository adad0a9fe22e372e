// Words about a result.
import { plain } from "../../../headless/format";

/** Of how many random portfolios it is better; never said to be all when it is not. */
export const better = (percentile: number): string =>
  percentile > 99.5 && percentile < 100 ? "over 99 of 100" : `${plain(percentile, 0)} of 100`;
