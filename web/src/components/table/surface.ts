// How a table looks: one set of rules for all of its cells, so that a cell costs no component.
import { styled } from "@mui/material/styles";
import { tint } from "../../theme/theme";

/** Pixels of a row. */
export const ROW = 31;

/** The variable that holds the tracks of all rows. */
export const TRACKS = "--tracks";

export const Surface = styled("div")({
  position: "relative",
  overflow: "auto",
  fontSize: 13,
  // The cell that the keys stand on shows the focus.
  "&:focus-visible": { outline: "none" },
  "& .row": {
    display: "grid",
    gridTemplateColumns: `var(${TRACKS})`,
    columnGap: 8,
    padding: "0 8px",
    alignItems: "center",
  },
  "& .heads": { position: "sticky", top: 0, zIndex: 3 },
  "& .head": {
    alignItems: "end",
    backgroundColor: tint("panel"),
    borderBottom: `1px solid ${tint("hairline")}`,
    paddingTop: 4,
    paddingBottom: 4,
  },
  "& .feet": { position: "sticky", bottom: 0, zIndex: 3 },
  "& .foot": { height: ROW, backgroundColor: tint("panel"), borderTop: `1px solid ${tint("hairline")}` },
  "& .body": { position: "relative" },
  "& .body .row": {
    position: "absolute",
    left: 0,
    right: 0,
    height: ROW,
    borderBottom: `1px solid ${tint("hairline")}`,
    backgroundColor: tint("panel"),
    contain: "strict",
  },
  "& .body .row.group": { backgroundColor: tint("tray"), cursor: "pointer", fontSize: 12.5 },
  "& .body .row:hover": { backgroundColor: tint("hover") },
  "& .body .row.chosen": { backgroundColor: tint("tealWash") },
  "& .body .row.marked": { backgroundColor: tint("brassWash") },
  "& .cell": { overflow: "hidden", textOverflow: "ellipsis", whiteSpace: "nowrap", minWidth: 0 },
  "& .body .row.tall": { height: "auto", minHeight: ROW, contain: "none", alignItems: "start", padding: "5px 8px" },
  "& .tall .cell": { whiteSpace: "normal" },
  "& .cell.n": { textAlign: "right" },
  "& .cell[data-opens]": { cursor: "pointer" },
  "& .cell[data-opens]:hover": {
    textDecoration: "underline",
    textDecorationColor: tint("brass"),
    textUnderlineOffset: 3,
  },
  "& .cell.cursor": { outline: `2px solid ${tint("brass")}`, outlineOffset: -1 },
  "& .pinned": { position: "sticky", zIndex: 1, backgroundColor: "inherit" },
  "& .column": {
    position: "relative",
    fontSize: 12,
    fontWeight: 500,
    lineHeight: 1.25,
    color: tint("second"),
    minWidth: 0,
  },
  "& .column.n": { textAlign: "right" },
  "& .column .grip": {
    position: "absolute",
    top: 0,
    bottom: 0,
    right: -6,
    width: 8,
    cursor: "col-resize",
    touchAction: "none",
  },
  "& .column .grip:hover": { borderRight: `2px solid ${tint("brass")}` },
  "& .column.over": { boxShadow: `-2px 0 0 ${tint("brass")}` },
  "& a": { color: "inherit", fontWeight: 600, textDecoration: "none" },
  "& a:hover": { textDecoration: "underline" },
  "& .quality": { display: "flex", alignItems: "center", gap: 8 },
  "& .named": { display: "flex", gap: 6, alignItems: "baseline" },
  "& .named > a": { overflow: "hidden", textOverflow: "ellipsis", flex: "0 1 auto" },
  "& .named > .faint": { flexShrink: 0 },
  "& .tick": {
    display: "inline-block",
    width: 14,
    height: 14,
    border: `1.5px solid ${tint("faint")}`,
    borderRadius: 2,
    verticalAlign: "middle",
    cursor: "pointer",
    lineHeight: "12px",
    fontSize: 12,
    textAlign: "center",
    color: "transparent",
  },
  "& .marked .tick": { backgroundColor: tint("brass"), borderColor: tint("brass"), color: tint("panel") },
  "& .coming": { display: "block", height: 10, borderRadius: 2, backgroundColor: tint("tray") },
});
