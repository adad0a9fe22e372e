//! *Candidates*: a row a company, with one value from the many of *Valuation*.

use super::{
    Book, Written,
    columns::{BESIDE, candidates as column, inputs as at},
    formula, input, letters,
};
use artemon_core::{Why, valuation::Model};
use rust_xlsxwriter::{Formula, Worksheet, utility::row_col_to_cell};

impl Book<'_> {
    pub(super) fn summary(&self, sheet: &mut Worksheet, blocks: &[(u32, u32)]) -> Written {
        use column::{AGREEMENT, BUY_BELOW, HIGH, LOW, MAD, MARGIN, MIDDLE, MODELS, VALUE};
        let heads = [
            "Place",
            "Symbol",
            "Name",
            "Sector",
            "Currency",
            "Price",
            "Value",
            "Low",
            "High",
            "Agreement",
            "Margin of safety",
            "Pay at most",
            "Verdict",
            "Quality",
            "Red flags",
            "Score",
            "Median of ln",
            "MAD of ln",
        ];
        for (column, head) in (0..).zip(heads) {
            sheet.write_with_format(0, column, head, &self.head)?;
        }
        for (column, m) in (MODELS..).zip(Model::ALL) {
            sheet.write_with_format(0, column, format!("Mean: {}", m.label()), &self.head)?;
        }
        let end = BESIDE + self.years() + 1;
        let weights: Vec<String> = Model::ALL.iter().map(|m| format!("weight_model_{}", m.number())).collect();
        for (row, (c, (v, &(first, last)))) in (1..).zip(self.candidates.iter().zip(self.values.iter().zip(blocks))) {
            let (company, val) = (self.context.snapshot().company(c.company), &v.valuation);
            sheet.write(row, 0, row)?.write(row, 1, self.context.snapshot().symbol(c.company))?.write(row, 2, company.name.as_str())?;
            sheet.write(row, 3, company.sector.as_str())?.write(row, 4, val.currency.as_str())?;
            let of = |column: u16| format!("Valuation!${c}${first}:${c}${last}", c = letters(column));
            let cell = |column: u16| row_col_to_cell(row, column);
            let counted = of(end + 3);
            formula(sheet, row, 5, &format!("={}", input(row, at::PRICE, true)), val.price, &self.money)?;
            let top: Vec<String> = weights.iter().zip(MODELS..).map(|(w, m)| format!("{w}*N({})", cell(m))).collect();
            let bottom: Vec<String> = weights.iter().zip(MODELS..).map(|(w, m)| format!("{w}*ISNUMBER({})", cell(m))).collect();
            let of_model = |m: &Model| {
                let (models, values, weights) = (of(1), of(end), of(3));
                format!("COUNTIFS({models},\"{}\",{values},\">-1E+300\",{weights},\">0\")", m.label())
            };
            let counted_of = |m: &Model| format!("(weight_model_{}>0)*{}", m.number(), of_model(m));
            let usable = Model::ALL.iter().map(counted_of).collect::<Vec<_>>().join("+");
            let kinds = Model::ALL.iter().map(|m| format!("({}>0)", counted_of(m))).collect::<Vec<_>>().join("+");
            let value = format!(
                "=IF(AND({usable}>=3,{kinds}>1),IF(({t})>0,({t})/({b}),\"too little to value\"),\"too little to value\")",
                t = top.join("+"),
                b = bottom.join("+")
            );
            formula(sheet, row, VALUE, &value, val.value, &self.money)?;
            let share = |p: &str| format!("=IF(ISNUMBER({}),PERCENTILE({counted},{p}),\"\")", cell(VALUE));
            formula(sheet, row, LOW, &share("0.25"), val.low, &self.money)?;
            formula(sheet, row, HIGH, &share("0.75"), val.high, &self.money)?;
            let agreement = format!(
                "=IF(ISNUMBER({v}),IF(MEDIAN({counted})>0,MAX(0,MIN(1,1-({h}-{l})/MEDIAN({counted}))),0),\"\")",
                v = cell(VALUE),
                h = cell(HIGH),
                l = cell(LOW)
            );
            formula(sheet, row, AGREEMENT, &agreement, val.agreement, &self.percent)?;
            formula(sheet, row, MARGIN, &format!("=IFERROR(1-{}/{},\"\")", cell(5), cell(VALUE)), val.margin_of_safety(), &self.percent)?;
            let asked = val.own.as_ref().and_then(|o| o.margin).map_or("margin".to_owned(), |m| m.to_string());
            let wider =
                format!("IF(wider_when_unsure>0,MIN(MAX(0.6,{asked}),{asked}+(1-N({}))*wider_when_unsure),{asked})", cell(AGREEMENT));
            let a = &self.context.settings().assumptions;
            formula(sheet, row, BUY_BELOW, &format!("=IFERROR({}*(1-{wider}),\"\")", cell(VALUE)), val.buy_below(a), &self.money)?;
            let verdict = format!(
                "=IF(AND(ISNUMBER({p}),ISNUMBER({b})),IF(N({q})<least_quality,\"pass\",IF({p}<={b},\"in range\",IF({p}<={b}*(1+close_within),\"close\",\"wait\"))),\"cannot value\")",
                p = cell(5),
                b = cell(BUY_BELOW),
                q = cell(13)
            );
            sheet.write_formula(row, 12, Formula::new(verdict).set_result(c.verdict.code()))?;
            match val.quality.score {
                Ok(q) => sheet.write(row, 13, q)?,
                Err(why) => sheet.write(row, 13, why.to_string())?,
            };
            #[allow(clippy::cast_precision_loss)]
            sheet.write(row, 14, val.quality.red_flags() as f64)?.write(row, 15, c.score.unwrap_or_default())?;
            let (middle, mad) = Book::spread_of_logs(v);
            formula(sheet, row, MIDDLE, &format!("=IF(COUNT({ln})>0,MEDIAN({ln}),\"\")", ln = of(end + 1)), middle, &self.money)?;
            formula(sheet, row, MAD, &format!("=IF(COUNT({d})>0,MEDIAN({d}),\"\")", d = of(end + 2)), mad, &self.money)?;
            for (column, model) in (MODELS..).zip(Model::ALL) {
                let picks = format!("({}=\"{}\")*ISNUMBER({counted})*{}", of(1), model.label(), of(3));
                let mean = format!("=IF(SUMPRODUCT({picks})>0,SUMPRODUCT({picks},{counted})/SUMPRODUCT({picks}),\"\")");
                let found = val.models.iter().find(|m| m.0 == model).map_or(Err(Why::NoAnswer), |m| Ok(m.1));
                formula(sheet, row, column, &mean, found, &self.money)?;
            }
        }
        sheet.set_column_width(2, 30)?.set_freeze_panes(1, 3)?;
        Ok(())
    }
}
