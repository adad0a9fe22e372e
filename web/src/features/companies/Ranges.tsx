// Where measures stand in the company's own ten years.
import Box from "@mui/material/Box";
import Typography from "@mui/material/Typography";
import type { Schemas } from "../../api/client";
import { placeInWords, RangeLine } from "../../components/RangeLine";
import { inUnit } from "../../headless/format";
import { tint } from "../../theme/theme";

export function Ranges({ page, measures }: { page: Schemas["CompanyPage"]; measures: string[] }) {
  const shown = page.ranges.filter((r) => measures.includes(r.measure));
  return (
    <Box
      sx={{
        display: "grid",
        gridTemplateColumns: "130px 64px 220px 1fr",
        alignItems: "center",
        rowGap: 0.75,
        columnGap: 1.5,
        fontSize: 13,
      }}
    >
      {shown.map((r) => (
        <Box key={r.measure} sx={{ display: "contents" }}>
          <span>{r.label}</span>
          <span style={{ textAlign: "right", fontWeight: 600 }}>{r.range ? inUnit(r.range.today, r.unit) : "–"}</span>
          {r.range ? (
            <RangeLine range={r.range} unit={r.unit} lowerIsBetter={r.lower_is_better} width={220} />
          ) : (
            <span />
          )}
          <Typography variant="body2" sx={{ color: tint("second") }}>
            {r.range ? placeInWords(r.range, r.lower_is_better) : r.reason}
          </Typography>
        </Box>
      ))}
    </Box>
  );
}
