// The tests of the balance sheet one by one: what is asked, what there is, and how it came out.
import Box from "@mui/material/Box";
import Typography from "@mui/material/Typography";
import type { Schemas } from "../../../api/client";
import { useSolvency } from "../../../api/evidence";
import { Answered } from "../../../components/Answered";
import { FigureCell } from "../../../components/FigureCell";
import { useAsOf } from "../../../headless/asOf";
import { MarkShape } from "../MarkShape";

type Test = Schemas["SolvencyTest"];

const MARK = { pass: "holds", fail: "fails", open: "open" } as const;

export function Solvency({ symbol }: { symbol: string }) {
  const [asOf] = useAsOf();
  return (
    <Answered answer={useSolvency(symbol, asOf)} rows={8}>
      {(tests) => (
        <>
          {[...new Set(tests.map((t) => t.group))].map((group) => (
            <Group key={group} label={group} tests={tests.filter((t) => t.group === group)} symbol={symbol} />
          ))}
        </>
      )}
    </Answered>
  );
}

function Group({ label, tests, symbol }: { label: string; tests: Test[]; symbol: string }) {
  const of = (outcome: Test["outcome"]) => tests.filter((t) => t.outcome === outcome).length;
  const open = of("open");
  return (
    <Box component="section" aria-label={label} sx={{ my: 1.25 }}>
      <Typography variant="h3">
        {label}{" "}
        <span className="second light">
          {of("pass")} of {tests.length - open}
          {open > 0 && `, ${open} not to be judged`}
        </span>
      </Typography>
      <Box sx={GRID}>
        {tests.map((test) => (
          <Tested key={test.label + test.asked} test={test} symbol={symbol} />
        ))}
      </Box>
    </Box>
  );
}

const GRID = {
  display: "grid",
  gridTemplateColumns: "18px minmax(150px, 300px) 84px 84px minmax(0, 1fr)",
  columnGap: 1.25,
  rowGap: 0.4,
  alignItems: "baseline",
  fontSize: 13,
};

function Tested({ test: t, symbol }: { test: Test; symbol: string }) {
  return (
    <Box sx={{ display: "contents" }}>
      <MarkShape mark={MARK[t.outcome]} />
      <span>{t.label}</span>
      <b className="right">
        <FigureCell figure={t.figure} unit={t.unit} opens={{ formula: t.formula, symbol }} />
      </b>
      <span className="right second">
        {t.before && (
          <>
            was <FigureCell figure={t.before.figure} unit={t.unit} opens={{ formula: t.before.formula, symbol }} />
          </>
        )}
      </span>
      <span className="second">{t.outcome === "open" ? (t.figure.reason ?? "too little is known") : t.asked}</span>
    </Box>
  );
}
