// What is loaded, by table and year, so that holes are seen at once: the fuller a cell, the more companies have data.
import Box from "@mui/material/Box";
import visuallyHidden from "@mui/utils/visuallyHidden";
import Typography from "@mui/material/Typography";
import type { Schemas } from "../../api/client";
import { day, plain } from "../../headless/format";
import { tint } from "../../theme/theme";

type Table = Schemas["TableCoverage"];

/** The years from the first with anything to the last; a long past is cut to what can be read. */
function yearsOf(tables: Table[]): number[] {
  const all = tables.flatMap((t) => Object.keys(t.years).map(Number));
  if (all.length === 0) return [];
  const last = Math.max(...all);
  const first = Math.max(Math.min(...all), last - 29);
  return Array.from({ length: last - first + 1 }, (_, i) => first + i);
}

export function Coverage({ tables }: { tables: Table[] }) {
  const years = yearsOf(tables);
  const dated = tables.filter((t) => Object.keys(t.years).length > 0);
  const companies = tables.find((t) => t.table === "companies")?.rows ?? 0;
  if (dated.length === 0) {
    return (
      <Typography color="textSecondary" sx={{ mt: 2 }}>
        Nothing is loaded yet. Drop files on the right to begin.
      </Typography>
    );
  }
  const template = `116px 74px repeat(${years.length}, minmax(6px, 1fr)) 92px`;
  return (
    <Box role="table" aria-label="Data loaded, by table and year" sx={{ mt: 1, fontSize: 12 }}>
      <Box role="row" sx={{ display: "grid", gridTemplateColumns: template, alignItems: "end", mb: 0.25 }}>
        <Box component="span" role="columnheader" sx={{ position: "relative" }}>
          <Box component="span" sx={visuallyHidden}>
            Table
          </Box>
        </Box>
        <Box component="span" role="columnheader" sx={{ textAlign: "right", pr: 1, color: tint("second") }}>
          rows
        </Box>
        {years.map((y) => (
          <Box
            key={y}
            component="span"
            role="columnheader"
            sx={{ color: tint("faint"), fontSize: 11, whiteSpace: "nowrap", overflow: "visible" }}
          >
            {y % 5 === 0 ? (
              y
            ) : (
              <Box component="span" sx={visuallyHidden}>
                {y}
              </Box>
            )}
          </Box>
        ))}
        <Box component="span" role="columnheader" sx={{ textAlign: "right", color: tint("second") }}>
          newest
        </Box>
      </Box>
      {dated.map((t) => (
        <Row key={t.table} table={t} years={years} companies={companies} template={template} />
      ))}
    </Box>
  );
}

function Row({
  table: t,
  years,
  companies,
  template,
}: {
  table: Table;
  years: number[];
  companies: number;
  template: string;
}) {
  const most = t.companies > 0 ? companies : Math.max(...Object.values(t.years));
  return (
    <Box role="row" sx={{ display: "grid", gridTemplateColumns: template, alignItems: "center", height: 19 }}>
      <Box component="span" role="rowheader">
        {t.table.replaceAll("_", " ")}
      </Box>
      <Box component="span" role="cell" sx={{ textAlign: "right", pr: 1, color: tint("second") }}>
        {plain(t.rows, 0)}
      </Box>
      {years.map((y) => {
        const n = t.years[y] ?? 0;
        const words = t.companies > 0 ? `${plain(n, 0)} of ${plain(companies, 0)} companies` : `${plain(n, 0)} rows`;
        return (
          <Box
            key={y}
            role="cell"
            data-hint={`${t.table.replaceAll("_", " ")}, ${y}: ${n === 0 ? "nothing" : words}`}
            aria-label={`${y}: ${words}`}
            sx={{ height: 13, mr: "2px", position: "relative" }}
          >
            <Box
              sx={{
                position: "absolute",
                inset: 0,
                border: n === 0 ? `1px solid ${tint("hairline")}` : 0,
                borderRadius: "1px",
                bgcolor: n === 0 ? "transparent" : tint("tealWash"),
              }}
            />
            <Box
              sx={{
                position: "absolute",
                left: 0,
                right: 0,
                bottom: 0,
                height: `${most > 0 ? Math.max((n / most) * 100, n > 0 ? 8 : 0) : 0}%`,
                bgcolor: tint("bar"),
                borderRadius: "1px",
              }}
            />
          </Box>
        );
      })}
      <Box component="span" role="cell" sx={{ textAlign: "right", color: tint("second") }}>
        {t.last ? day(t.last) : "–"}
      </Box>
    </Box>
  );
}
