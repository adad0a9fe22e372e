// Where a statement and the journal differ at its end, line by line: each is left as it is, or made good by an entry.
import Checkbox from "@mui/material/Checkbox";
import Typography from "@mui/material/Typography";
import type { Schemas } from "../../../api/client";
import { Table } from "../../../components/Table";
import { day, plain } from "../../../headless/format";

interface Props {
  all: Schemas["Difference"][];
  chosen: string[];
  choose: (keys: string[]) => void;
}

export function Differences({ all, chosen, choose }: Props) {
  if (all.length === 0) return null;
  const flip = (key: string) => choose(chosen.includes(key) ? chosen.filter((k) => k !== key) : [...chosen, key]);
  return (
    <>
      <Typography variant="h3" sx={{ mt: 2 }}>
        At its end, {day(all[0]?.on ?? "")}
      </Typography>
      <Table
        label="Differences"
        head={["What", "The statement says", "The journal would say", "Difference", "Make it good by an entry"]}
        left={[0, 4]}
        rows={all.map((d) => ({
          key: d.key,
          cells: [
            d.what,
            plain(d.stated, 2),
            plain(d.journal, 2),
            plain(d.stated - d.journal, 2),
            <Checkbox
              key="settle"
              size="small"
              sx={{ p: 0 }}
              checked={chosen.includes(d.key)}
              onChange={() => flip(d.key)}
              slotProps={{ input: { "aria-label": `Make ${d.what} good` } }}
            />,
          ],
        }))}
      />
    </>
  );
}
