// Figures of the page that belong to a question, in a line; each opens down to what it is made of.
import Typography from "@mui/material/Typography";
import type { Schemas } from "../../api/client";
import { FigureCell } from "../../components/FigureCell";

interface Props {
  page: Schemas["CompanyPage"];
  /** In this order; those that the page does not have are left out. */
  formulas: string[];
}

export function KeyFigures({ page, formulas }: Props) {
  const shown = formulas.flatMap((formula) => page.figures.find((f) => f.formula === formula) ?? []);
  return (
    <Typography variant="body2" color="textSecondary" sx={{ mb: 1 }}>
      {shown.map((f, i) => (
        <span key={f.formula}>
          {i > 0 && " · "}
          {f.label}{" "}
          <b className="ink">
            <FigureCell figure={f.figure} unit={f.unit} opens={{ formula: f.formula, symbol: page.company.symbol }} />
          </b>
        </span>
      ))}
    </Typography>
  );
}
