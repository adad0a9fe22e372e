// The last line, which stays in view: the middle of all rows under each column.
import { memo } from "react";
import type { Foot } from "./model";
import type { Placed } from "./useColumns";

interface Props<T> {
  /** Its number among the lines, from 1. */
  line: number;
  foot: Foot;
  shown: Placed<T>[];
}

function PlainFoot<T>({ line, foot, shown }: Props<T>) {
  const named = shown.find((p) => p.column.grows) ?? shown[0];
  return (
    <div role="rowgroup" className="feet">
      <div role="row" className="row foot" aria-rowindex={line} data-testid="medians">
        {shown.map((p) => (
          <div key={p.column.id} role="gridcell" aria-colindex={p.track} className={p.cellClass} style={p.place}>
            {p === named ? <span className="second">Median</span> : foot[p.column.id]}
          </div>
        ))}
      </div>
    </div>
  );
}

export const FootRow = memo(PlainFoot) as typeof PlainFoot;
