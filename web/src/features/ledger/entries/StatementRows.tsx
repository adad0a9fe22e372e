// The rows of a statement, each with what it is to the journal, and whether it is wanted.
import Box from "@mui/material/Box";
import Checkbox from "@mui/material/Checkbox";
import type { Schemas } from "../../../api/client";
import { Table } from "../../../components/Table";
import { day, plain, price } from "../../../headless/format";

type Asked = Schemas["AccountStatementRequest"];
type Row = Schemas["AccountStatementRow"];

interface Props {
  found: Schemas["AccountStatement"];
  asked: Asked;
  set: (to: Partial<Asked>) => void;
}

const STATES: Record<Schemas["RowState"], string> = {
  new: "new",
  known: "taken in before",
  alike: "entered before",
  refused: "refused",
  left_out: "left out",
};

export function StatementRows({ found, asked, set }: Props) {
  if (found.rows.length === 0) return null;
  const flip = (places: number[], place: number) =>
    places.includes(place) ? places.filter((p) => p !== place) : [...places, place];
  const choose = (r: Row) =>
    r.state === "alike" || asked.take_alike.includes(r.place)
      ? set({ take_alike: flip(asked.take_alike, r.place) })
      : set({ leave_out: flip(asked.leave_out, r.place) });
  return (
    <Table
      label="Rows of the statement"
      maxHeight={320}
      head={["Take", "On", "What", "Security", "Quantity", "Price", "Cash", "State", "Note"]}
      left={[0, 1, 2, 3, 7, 8]}
      rows={found.rows.map((r) => ({
        key: String(r.place),
        quiet: r.state === "known" || r.state === "left_out",
        cells: [
          <Checkbox
            key="take"
            size="small"
            sx={{ p: 0 }}
            checked={r.state === "new"}
            disabled={r.state === "known" || r.state === "refused"}
            onChange={() => choose(r)}
            slotProps={{ input: { "aria-label": `Take row ${r.place}` } }}
          />,
          day(r.date),
          r.kind.replaceAll("_", " "),
          <span key="what" data-hint={r.memo || undefined}>
            {r.symbol ? `${r.what} (${r.symbol})` : r.what ? `${r.what}, not in the dataset` : r.memo}
          </span>,
          r.units == null ? "" : plain(r.units, Number.isInteger(r.units) ? 0 : 3),
          r.price == null ? "" : price(r.price),
          r.total == null ? "" : `${plain(r.total, 2)} ${r.currency}`,
          STATES[r.state],
          <Box
            key="says"
            className={r.state === "refused" ? "clay" : "second"}
            sx={{ whiteSpace: "normal", minWidth: r.says ? 190 : 0 }}
          >
            {r.says ?? ""}
          </Box>,
        ],
      }))}
    />
  );
}
