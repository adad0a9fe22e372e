// Where measures stand in the company's own ten years.
import Box from "@mui/material/Box";
import Typography from "@mui/material/Typography";
import type { Schemas } from "../../api/client";
import { FigureCell } from "../../components/FigureCell";
import { placeInWords, RangeLine } from "../../components/RangeLine";

export function Ranges({ page, measures }: { page: Schemas["CompanyPage"]; measures: string[] }) {
  const shown = page.ranges.filter((r) => measures.includes(r.measure));
  return (
    <Box
      sx={{
        display: "grid",
        gridTemplateColumns: "108px 56px 180px 1fr",
        alignItems: "center",
        rowGap: 0.75,
        columnGap: 1.5,
        fontSize: 13,
      }}
    >
      {shown.map((r) => (
        <Box key={r.measure} sx={{ display: "contents" }}>
          <span>{r.label}</span>
          <Box component="span" sx={{ textAlign: "right", fontWeight: 600 }}>
            <FigureCell
              figure={{ value: r.range?.today ?? null, reason: r.reason ?? null }}
              unit={r.unit}
              opens={{ formula: r.measure, symbol: page.company.symbol }}
            />
          </Box>
          {r.range ? (
            <RangeLine range={r.range} unit={r.unit} lowerIsBetter={r.lower_is_better} width={180} />
          ) : (
            <span />
          )}
          <Typography variant="body2" color="textSecondary">
            {r.range ? placeInWords(r.range, r.lower_is_better) : r.reason}
          </Typography>
        </Box>
      ))}
    </Box>
  );
}
