// Which figures a list shows beside its own: any measure or formula, or a set of columns.
import Popover from "@mui/material/Popover";
import { useMeasures } from "../../api/queries";
import { FormulaColumns } from "../screens/ColumnChoice";

interface Props {
  columns: string[];
  change: (columns: string[]) => void;
  anchor: Element;
  close: () => void;
}

export function ListColumns({ columns, change, anchor, close }: Props) {
  const measures = useMeasures().data ?? [];
  return (
    <Popover
      open
      anchorEl={anchor}
      onClose={close}
      anchorOrigin={{ vertical: "bottom", horizontal: "right" }}
      transformOrigin={{ vertical: "top", horizontal: "right" }}
      slotProps={{ paper: { sx: { p: 2, width: 492 } } }}
    >
      <FormulaColumns columns={columns} measures={measures} change={change} />
    </Popover>
  );
}
