// A plain dense table of figures: names to the left, numbers to the right, the first column standing while one scrolls.
import Paper from "@mui/material/Paper";
import { styled } from "@mui/material/styles";
import type { ReactNode } from "react";
import { tint } from "../theme/theme";

interface Props {
  label: string;
  head: ReactNode[];
  rows: { key: string; cells: ReactNode[]; quiet?: boolean }[];
  /** Columns to the left. */
  left?: number[];
  maxHeight?: number;
  /** Columns that are not printed. */
  offPaper?: number[];
  /** Before which column a rule stands: what follows is of another sort. */
  rule?: number | undefined;
}

const Dense = styled("table")({
  borderCollapse: "collapse",
  width: "100%",
  fontSize: 12.5,
  "& th": {
    fontWeight: 500,
    color: tint("second"),
    fontSize: 12,
    position: "sticky",
    top: 0,
    zIndex: 1,
    backgroundColor: tint("panel"),
    verticalAlign: "bottom",
    lineHeight: 1.2,
  },
  "& td": { whiteSpace: "nowrap" },
  "& th, & td": {
    textAlign: "right",
    padding: "4px 7px",
    borderBottom: `1px solid ${tint("hairline")}`,
  },
  "& .left": { textAlign: "left" },
  "& .rule": { borderLeft: `2px solid ${tint("ink")}` },
  "& th:first-of-type, & td:first-of-type": { position: "sticky", left: 0, backgroundColor: tint("panel") },
  "& th:first-of-type": { zIndex: 2 },
  "& tr:last-child td": { borderBottom: 0 },
  "@media print": {
    fontSize: 9,
    "& th": { fontSize: 9, position: "static" },
    "& th, & td": { padding: "2px 4px" },
    "& .small": { fontSize: 8 },
    "& tr": { breakInside: "avoid" },
  },
});

export function Table({ label, head, rows, left = [0], maxHeight, offPaper = [], rule }: Props) {
  const side = (i: number) =>
    [left.includes(i) && "left", i === rule && "rule", offPaper.includes(i) && "not-on-paper"]
      .filter(Boolean)
      .join(" ") || undefined;
  return (
    <Paper
      {...(maxHeight && { tabIndex: 0, role: "group", "aria-label": label })}
      sx={{ overflow: "auto", maxHeight, my: 1, "@media print": { overflow: "visible", maxHeight: "none" } }}
    >
      <Dense aria-label={label}>
        <thead>
          <tr>
            {head.map((h, i) => (
              <th key={i} className={side(i)}>
                {h === "" ? <span className="unseen">What can be done</span> : h}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {rows.map((r) => (
            <tr key={r.key} className={r.quiet ? "faint" : undefined}>
              {r.cells.map((cell, i) => (
                <td key={i} className={side(i)}>
                  {cell}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </Dense>
    </Paper>
  );
}
