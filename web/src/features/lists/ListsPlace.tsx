// Lists: who one follows, with what one says of each and what became of it.
import Alert from "@mui/material/Alert";
import Box from "@mui/material/Box";
import { useQueryState } from "nuqs";
import { useCallback, useState } from "react";
import { useLists } from "../../api/following";
import { Failed, LoadingPage } from "../../components/States";
import { text } from "../../headless/address";
import { tint } from "../../theme/theme";
import { ListNames } from "./ListNames";
import { ListTable } from "./ListTable";
import { NoList } from "./NoList";
import { useListWork } from "./useListWork";

export function ListsPlace() {
  const lists = useLists();
  const [wanted, choose] = useQueryState("list", text);
  const [problem, setProblem] = useState<string | null>(null);
  const work = useListWork(useCallback((why: Error) => setProblem(why.message), []));
  if (lists.error) return <Failed error={lists.error} retry={() => void lists.refetch()} />;
  if (!lists.data) return <LoadingPage />;
  const chosen = lists.data.find((l) => l.id === wanted) ?? lists.data[0];
  return (
    <Box
      sx={{
        height: "100%",
        display: "grid",
        gridTemplateColumns: { xs: "minmax(0, 1fr)", md: "232px minmax(0, 1fr)" },
      }}
    >
      <ListNames all={lists.data} chosen={chosen?.id} choose={(id) => void choose(id)} work={work} told={setProblem} />
      <Box
        sx={{
          borderLeft: { md: `1px solid ${tint("hairline")}` },
          minHeight: 0,
          display: "flex",
          flexDirection: "column",
          p: 2,
        }}
      >
        {problem && (
          <Alert severity="warning" variant="outlined" icon={false} sx={{ mb: 1 }} onClose={() => setProblem(null)}>
            {problem}
          </Alert>
        )}
        {chosen ? (
          <ListTable key={chosen.id} entry={chosen} work={work} />
        ) : (
          <NoList work={work} choose={(id) => void choose(id)} told={setProblem} />
        )}
      </Box>
    </Box>
  );
}
