// The companies of the same industry, the largest first, with the place of this one among them.
import Link from "@mui/material/Link";
import Typography from "@mui/material/Typography";
import { Link as RouterLink } from "react-router";
import type { Schemas, Screen } from "../../api/client";
import { usePeers } from "../../api/evidence";
import { Answered } from "../../components/Answered";
import { FigureCell } from "../../components/FigureCell";
import { Table } from "../../components/Table";
import { useAddress, useAsOf } from "../../headless/asOf";
import { figureAt } from "../../headless/compact";

export function Peers({ symbol }: { symbol: string }) {
  const [asOf] = useAsOf();
  const peers = usePeers(symbol, asOf);
  return (
    <Answered answer={peers} rows={4}>
      {(answer) => (answer.companies < 2 ? null : <Shown peers={answer} symbol={symbol} />)}
    </Answered>
  );
}

function Shown({
  peers: { by, group, companies, places, rows },
  symbol,
}: {
  peers: Schemas["PeersAnswer"];
  symbol: string;
}) {
  const address = useAddress();
  const screen: Screen = {
    name: group,
    universe: by === "industry" ? { industries: [group] } : { sectors: [group] },
    columns: places.map((p) => p.formula),
    sort: [{ formula: places[0]?.formula ?? "market_cap", descending: true }],
  };
  const all = address(`/screens?screen=${encodeURIComponent(JSON.stringify(screen))}`);
  return (
    <>
      <Table
        label="Companies of its industry"
        head={["Company", ...places.map((p) => p.label)]}
        rows={rows.map((row) => ({
          key: row.symbol,
          cells: [
            row.symbol === symbol ? <b key="name">{row.name}</b> : <Other key="name" {...row} />,
            ...places.map(({ formula, unit, place, of }, i) => (
              <span key={formula}>
                {row.symbol === symbol && place != null && (
                  <span className="brass" title={`Place ${place} of ${of}`}>
                    #{place}{" "}
                  </span>
                )}
                <FigureCell figure={figureAt(row, i)} unit={unit} opens={{ formula, symbol: row.symbol }} />
              </span>
            )),
          ],
        }))}
      />
      <Typography variant="caption" color="textSecondary">
        {rows.length < companies && `${rows.length} of ${companies}. `}
        <Link component={RouterLink} to={all}>
          All of them in a table
        </Link>{" "}
        or{" "}
        <Link component={RouterLink} to={`${all}&view=map`}>
          on a map
        </Link>
        .
      </Typography>
    </>
  );
}

function Other({ symbol, name }: { symbol: string; name: string }) {
  const address = useAddress();
  return (
    <Link component={RouterLink} to={address(`/companies/${symbol}`)} sx={{ color: "inherit" }}>
      {name}
    </Link>
  );
}
