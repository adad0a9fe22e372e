//! *Candidates*: a row a company, with one value from the many of *Valuation*.

use super::{
    Book, Written,
    columns::{BESIDE, candidates as column, inputs as at},
    formula, input, letters,
};
use artemon_core::{
    Num, Why,
    ranking::Candidate,
    valuation::{CompanyValue, Model},
};
use rust_xlsxwriter::{Formula, Worksheet, utility::row_col_to_cell};

/// Headings up to the means of the models.
const HEADS: [&str; 18] = [
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

impl Book<'_> {
    pub(super) fn summary(&self, sheet: &mut Worksheet, blocks: &[(u32, u32)]) -> Written {
        for (column, head) in (0..).zip(HEADS) {
            sheet.write_with_format(0, column, head, &self.head)?;
        }
        for (column, m) in (column::MODELS..).zip(Model::ALL) {
            sheet.write_with_format(0, column, format!("Mean: {}", m.label()), &self.head)?;
        }
        let companies = self.candidates.iter().zip(&self.values).zip(blocks);
        for (row, ((candidate, value), block)) in (1..).zip(companies) {
            let line = Line { book: self, row, value, block: *block };
            line.company(sheet, candidate)?;
            line.value(sheet)?;
            line.range(sheet)?;
            line.price(sheet, candidate)?;
            line.models(sheet)?;
        }
        sheet.set_column_width(2, 30)?.set_freeze_panes(1, 3)?;
        Ok(())
    }
}

/// A company's row.
struct Line<'l, 'b> {
    book: &'l Book<'b>,
    row: u32,
    value: &'l CompanyValue,
    /// Its first and last row on *Valuation*, from 1.
    block: (u32, u32),
}

impl Line<'_, '_> {
    fn cell(&self, column: u16) -> String {
        row_col_to_cell(self.row, column)
    }

    /// A column of the company's rows on *Valuation*.
    fn of(&self, column: u16) -> String {
        format!("Valuation!${c}${first}:${c}${last}", c = letters(column), first = self.block.0, last = self.block.1)
    }

    /// The column of *Valuation* with the values.
    fn end(&self) -> u16 {
        BESIDE + self.book.years() + 1
    }

    fn money(&self, sheet: &mut Worksheet, column: u16, text: &str, result: Num) -> Written {
        formula(sheet, self.row, column, text, result, &self.book.money)
    }

    /// Who it is, and what is computed without formulas.
    fn company(&self, sheet: &mut Worksheet, candidate: &Candidate) -> Written {
        let (snapshot, valuation) = (self.book.context.snapshot(), &self.value.valuation);
        let company = snapshot.company(candidate.company);
        sheet.write(self.row, 0, self.row)?.write(self.row, 1, snapshot.symbol(candidate.company))?;
        sheet.write(self.row, 2, company.name.as_str())?.write(self.row, 3, company.sector.as_str())?;
        sheet.write(self.row, 4, valuation.currency.as_str())?;
        match valuation.quality.score {
            Ok(quality) => sheet.write(self.row, column::QUALITY, quality)?,
            Err(why) => sheet.write(self.row, column::QUALITY, why.to_string())?,
        };
        #[allow(clippy::cast_precision_loss)]
        let flags = valuation.quality.red_flags() as f64;
        sheet.write(self.row, 14, flags)?.write(self.row, 15, candidate.score.unwrap_or_default())?;
        Ok(())
    }

    /// The weighted mean of the models' means, where three valuations by two models count.
    fn value(&self, sheet: &mut Worksheet) -> Written {
        let (models, values, weights) = (self.of(1), self.of(self.end()), self.of(3));
        let count = |m: Model| {
            let of_model = format!("COUNTIFS({models},\"{}\",{values},\">-1E+300\",{weights},\">0\")", m.label());
            format!("(weight_model_{}>0)*{of_model}", m.number())
        };
        let joined = |each: &dyn Fn(Model, String) -> String| {
            let all = Model::ALL.into_iter().zip(column::MODELS..).map(|(m, at)| each(m, self.cell(at)));
            all.collect::<Vec<_>>().join("+")
        };
        let usable = joined(&|m, _| count(m));
        let kinds = joined(&|m, _| format!("({}>0)", count(m)));
        let top = joined(&|m, mean| format!("weight_model_{}*N({mean})", m.number()));
        let bottom = joined(&|m, mean| format!("weight_model_{}*ISNUMBER({mean})", m.number()));
        let text =
            format!("=IF(AND({usable}>=3,{kinds}>1),IF(({top})>0,({top})/({bottom}),\"too little to value\"),\"too little to value\")");
        self.money(sheet, column::VALUE, &text, self.value.valuation.value)
    }

    /// Quartiles of what counts, how far they agree, and the spread that sets extremes apart.
    fn range(&self, sheet: &mut Worksheet) -> Written {
        let (v, counted) = (&self.value.valuation, self.of(self.end() + 3));
        let [value, low, high] = [column::VALUE, column::LOW, column::HIGH].map(|c| self.cell(c));
        let quartile = |share: &str| format!("=IF(ISNUMBER({value}),PERCENTILE({counted},{share}),\"\")");
        self.money(sheet, column::LOW, &quartile("0.25"), v.low)?;
        self.money(sheet, column::HIGH, &quartile("0.75"), v.high)?;
        let agreement = format!("=IF(ISNUMBER({value}),IF(MEDIAN({counted})>0,MAX(0,MIN(1,1-({high}-{low})/MEDIAN({counted}))),0),\"\")");
        formula(sheet, self.row, column::AGREEMENT, &agreement, v.agreement, &self.book.percent)?;
        let (middle, mad) = Book::spread_of_logs(self.value);
        for (at, logs, found) in [(column::MIDDLE, self.end() + 1, middle), (column::MAD, self.end() + 2, mad)] {
            let logs = self.of(logs);
            self.money(sheet, at, &format!("=IF(COUNT({logs})>0,MEDIAN({logs}),\"\")"), found)?;
        }
        Ok(())
    }

    /// The price, the margin of safety, what to pay at most, and what that says.
    fn price(&self, sheet: &mut Worksheet, candidate: &Candidate) -> Written {
        let (v, a) = (&self.value.valuation, &self.book.context.settings().assumptions);
        let [price, value, agreement, limit, quality] =
            [column::PRICE, column::VALUE, column::AGREEMENT, column::BUY_BELOW, column::QUALITY].map(|c| self.cell(c));
        self.money(sheet, column::PRICE, &format!("={}", input(self.row, at::PRICE, true)), v.price)?;
        let margin = format!("=IFERROR(1-{price}/{value},\"\")");
        formula(sheet, self.row, column::MARGIN, &margin, v.margin_of_safety(), &self.book.percent)?;
        let asked = v.own.as_ref().and_then(|o| o.margin).map_or("margin".to_owned(), |m| m.to_string());
        let wider = format!("IF(wider_when_unsure>0,MIN(MAX(0.6,{asked}),{asked}+(1-N({agreement}))*wider_when_unsure),{asked})");
        self.money(sheet, column::BUY_BELOW, &format!("=IFERROR({value}*(1-{wider}),\"\")"), v.buy_below(a))?;
        let by_price = format!("IF({price}<={limit},\"in range\",IF({price}<={limit}*(1+close_within),\"close\",\"wait\"))");
        let verdict =
            format!("=IF(AND(ISNUMBER({price}),ISNUMBER({limit})),IF(N({quality})<least_quality,\"pass\",{by_price}),\"cannot value\")");
        sheet.write_formula(self.row, column::VERDICT, Formula::new(verdict).set_result(candidate.verdict.code()))?;
        Ok(())
    }

    /// Each model's mean over its scenarios, by their weights.
    fn models(&self, sheet: &mut Worksheet) -> Written {
        let (what, counted, weights) = (self.of(1), self.of(self.end() + 3), self.of(3));
        for (at, model) in (column::MODELS..).zip(Model::ALL) {
            let picks = format!("({what}=\"{}\")*ISNUMBER({counted})*{weights}", model.label());
            let mean = format!("=IF(SUMPRODUCT({picks})>0,SUMPRODUCT({picks},{counted})/SUMPRODUCT({picks}),\"\")");
            let found = self.value.valuation.models.iter().find(|m| m.0 == model).map_or(Err(Why::NoAnswer), |m| Ok(m.1));
            self.money(sheet, at, &mean, found)?;
        }
        Ok(())
    }
}
