// One cell of the grid, year by year, until it adds up to its value.
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Drawer from "@mui/material/Drawer";
import Typography from "@mui/material/Typography";
import type { Own, Schemas } from "../../api/client";
import { useValueWith } from "../../api/queries";
import { Failed, Loading } from "../../components/States";
import { useAsOf } from "../../headless/asOf";
import { percent, plain, price } from "../../headless/format";
import { tint } from "../../theme/theme";
import { Table } from "../../components/Table";

export type AskedCell = { model: Schemas["Model"]; scenario: string | null; title: string };

interface Props {
  symbol: string;
  currency: string;
  cell: AskedCell | null;
  own: Own;
  close: () => void;
}

export function ValueSteps({ symbol, currency, cell, own, close }: Props) {
  return (
    <Drawer
      anchor="right"
      open={cell !== null}
      onClose={close}
      slotProps={{
        paper: { sx: { width: "min(600px, 100vw)", bgcolor: tint("paper"), p: 2.5 }, "aria-label": "Steps" },
        backdrop: { sx: { bgcolor: "rgb(0 0 0 / 12%)" } },
      }}
    >
      {cell && <Sheet symbol={symbol} currency={currency} cell={cell} own={own} close={close} />}
    </Drawer>
  );
}

function Sheet({ symbol, currency, cell, own, close }: Props & { cell: AskedCell }) {
  const [asOf] = useAsOf();
  const steps = { model: cell.model, scenario: cell.scenario };
  const answer = useValueWith(symbol, { as_of: asOf ?? null, own, steps });
  if (answer.error) return <Failed error={answer.error} retry={() => answer.refetch()} />;
  const found = answer.data?.steps;
  if (!found) return <Loading rows={12} />;
  const years = found.years.reduce((sum, y) => sum + y.present, 0);
  const rate = found.years[0] ? 1 / found.years[0].discount - 1 : null;
  return (
    <>
      <Typography variant="h2">{cell.title}</Typography>
      <Typography variant="body2" color="textSecondary" sx={{ mb: 1.5 }}>
        Amounts a share in {currency}
        {rate !== null && `, discounted at ${percent(rate)} a year`}. {answer.data?.assumptions} assumptions.
      </Typography>
      {found.years.length > 0 && (
        <Table
          label="Year by year"
          head={[
            "Year",
            found.figure === "Book value" ? "Return on it" : "Growth",
            found.figure,
            found.amount,
            "1 then is now",
            "Worth now",
          ]}
          rows={found.years.map((y) => ({
            key: String(y.year),
            cells: [
              String(y.year),
              percent(y.growth),
              price(y.figure),
              price(y.amount),
              plain(y.discount, 3),
              price(y.present),
            ],
          }))}
        />
      )}
      <Box component="dl" sx={{ m: 0, mt: 1, fontSize: 13 }}>
        {found.years.length > 0 && <Line words={`The ${found.years.length} years together`} amount={years} />}
        {found.parts.map((part) => (
          <Line key={part.words} words={part.words} amount={part.amount} />
        ))}
        <Line words="Value per share" amount={found.value} strong />
      </Box>
      <Button sx={{ mt: 2, alignSelf: "flex-start" }} onClick={close}>
        Close
      </Button>
    </>
  );
}

function Line({ words, amount, strong = false }: { words: string; amount: number; strong?: boolean }) {
  return (
    <Box
      sx={{
        display: "flex",
        justifyContent: "space-between",
        py: 0.5,
        fontWeight: strong ? 600 : 400,
        borderTop: `1px solid ${strong ? tint("ink") : tint("hairline")}`,
      }}
    >
      <Box component="dt">{`${words[0]?.toUpperCase()}${words.slice(1)}`}</Box>
      <Box component="dd" sx={{ m: 0 }}>
        {price(amount)}
      </Box>
    </Box>
  );
}
