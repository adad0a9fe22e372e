// There is no list yet: what to do, and the first one offered.
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import { useMarks } from "../../headless/marks";
import { Empty } from "../../components/States";
import { companies, type ListWork } from "./useListWork";

interface Props {
  work: ListWork;
  choose: (id: string) => void;
  told: (problem: string) => void;
}

/** The first list, as most call it. */
const FIRST = "Watch";

export function NoList({ work, choose, told }: Props) {
  const marked = useMarks((s) => s.marked);
  const make = async () => {
    const id = await work.make(FIRST, "");
    if (marked.length > 0)
      await work.add(
        id,
        FIRST,
        marked.map((m) => m.symbol),
      );
    choose(id);
  };
  return (
    <Empty title="No list yet">
      A list holds the companies you follow, with your notes and the price you would pay. Everything on a list is
      watched on Today.
      <Box sx={{ mt: 2 }}>
        <Button variant="contained" onClick={() => void make().catch((why: Error) => told(why.message))}>
          {marked.length > 0
            ? `Make the list “${FIRST}” of ${companies(marked.length).toLowerCase()} marked`
            : `Make the list “${FIRST}”`}
        </Button>
      </Box>
    </Empty>
  );
}
