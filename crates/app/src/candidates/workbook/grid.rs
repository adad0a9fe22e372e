//! *Valuation*: for each company what a unit of each year is worth and what growth makes of one, then a row a cell of the grid.
//! What stands in the years is told by the models themselves.

use super::{
    Book, Written,
    columns::{BESIDE, GROWTH, candidates as column, inputs as at},
    expression::{Expression, Pad},
    formula, input,
};
use artemon_core::{
    Num, Why, stats,
    valuation::{Account, Amount, Case, Cell, CompanyValue, Course, Model, Path, Rate, Scenario, StartingFigures, Status, multiples, tell},
};
use rust_xlsxwriter::{Formula, Worksheet, XlsxError, utility::row_col_to_cell};

/// Columns of a row.
const SYMBOL: u16 = 0;
const WHAT: u16 = 1;
const SCENARIO: u16 = 2;
const WEIGHT: u16 = 3;
const GROWTH_OF_ROW: u16 = 4;
const RATE: u16 = 5;
const TERMINAL: u16 = 6;

impl Book<'_> {
    /// Gives the first and last row of each company, from 1.
    pub(super) fn valuation(&self, sheet: &mut Worksheet) -> Result<Vec<(u32, u32)>, XlsxError> {
        let years = self.years();
        let heads = ["Symbol", "What", "Scenario", "Weight", "Growth", "Rate", "Terminal growth", "Beside the years"];
        for (column, head) in (0..).zip(heads) {
            sheet.write_with_format(0, column, head, &self.head)?;
        }
        for year in 1..=years {
            sheet.write_with_format(0, BESIDE + year, f64::from(year), &self.head)?;
        }
        for (column, head) in (BESIDE + years + 1..).zip(["Value", "ln value", "|ln − median|", "Counts as"]) {
            sheet.write_with_format(0, column, head, &self.head)?;
        }
        let (mut row, mut blocks) = (1, Vec::new());
        for (company, v) in (1..).zip(&self.values) {
            let first = row;
            let pad = Pad::default();
            let mut rows = Rows { book: self, sheet, row, company, v, pad: &pad, failed: None };
            rows.write()?;
            row = rows.row;
            blocks.push((first + 1, row));
        }
        sheet.set_freeze_panes(1, 2)?;
        Ok(blocks)
    }

    pub(super) fn years(&self) -> u16 {
        u16::try_from(self.context.settings().assumptions.horizon).unwrap_or(10)
    }

    /// Median and median absolute deviation of the logarithms of what counts, extremes included.
    pub(super) fn spread_of_logs(v: &CompanyValue) -> (Num, Num) {
        let counting = |c: &&Cell| matches!(c.status, Status::Kept | Status::Outlier);
        let logs: Vec<f64> = v.valuation.cells.iter().filter(counting).filter_map(|c| Some(c.value.ok()?.ln())).collect();
        let middle = stats::median(&logs);
        let mad = middle.and_then(|m| stats::median(&logs.iter().map(|l| (l - m).abs()).collect::<Vec<f64>>()));
        (middle.ok_or(Why::NoAnswer), mad.ok_or(Why::NoAnswer))
    }
}

/// The rows of one company.
struct Rows<'r, 'b> {
    book: &'r Book<'b>,
    sheet: &'r mut Worksheet,
    /// The next row.
    row: u32,
    /// The company's row on *Inputs* and *Candidates*.
    company: u32,
    v: &'r CompanyValue,
    pad: &'r Pad,
    /// What could not be written while a model was telling.
    failed: Option<XlsxError>,
}

/// What one unit of each year is worth, and what becomes of one unit at each growth.
struct Discounted<'p> {
    rate: Rate<Expression<'p>>,
    grown: Vec<(Scenario, Path<Expression<'p>>)>,
}

impl<'r> Rows<'r, '_> {
    fn write(&mut self) -> Written {
        let (start, course) = (self.start(), self.course());
        let own = self.discounted(&course, at::RETURN, "at the required return")?;
        let for_firm = Model::for_kind(self.v.inputs.kind).contains(&Model::FirmCashFlow)
            || Model::for_kind(self.v.inputs.kind).contains(&Model::EarningsPower);
        let firm = if for_firm { Some(self.discounted(&course, at::FIRM, "at the firm's rate")?) } else { None };
        let (middle, _) = Book::spread_of_logs(self.v);
        for cell in &self.v.valuation.cells {
            let of = |d: &Discounted<'r>| {
                let same = d.grown.iter().find(|(s, _)| cell.scenario.is_none_or(|wanted| wanted == *s));
                same.map(|(_, path)| (d.rate, *path)).ok_or(Why::NoAnswer)
            };
            let Ok((rate, path)) = of(&own) else { continue };
            let at_firm = |_| firm.as_ref().map_or(Err(Why::NotMeaningful), of);
            let g = cell.scenario.map_or(Expression::of(0.0), |s| self.growth(s));
            let case = Case { start: &start, course: &course, rate: &rate, g, path, firm: &at_firm };
            self.cell(cell, &case, middle)?;
        }
        Ok(())
    }

    fn input(&self, column: u16) -> String {
        input(self.company, column, true)
    }

    fn own(&self, column: u16) -> String {
        row_col_to_cell(self.row, column)
    }

    fn put(&mut self, column: u16, text: &str, result: Num) -> Written {
        let format = if matches!(column, GROWTH_OF_ROW | RATE | TERMINAL) { &self.book.percent } else { &self.book.money };
        formula(self.sheet, self.row, column, text, result, format)
    }

    /// Writes a formula into the row and gives the cell in its place; an error leaves the cell empty.
    fn keep(&mut self, column: u16, written: Expression<'r>) -> Expression<'r> {
        let text = format!("=IFERROR({written},\"\")");
        if let Err(e) = self.put(column, &text, written.value()) {
            self.failed.get_or_insert(e);
        }
        self.pad.cell(self.own(column), written.value())
    }

    fn head(&mut self, what: &str, scenario: &str) -> Written {
        let symbol = self.book.context.snapshot().symbol(self.book.candidates[self.company as usize - 1].company);
        let text = Formula::new(format!("={}", self.input(at::SYMBOL))).set_result(symbol);
        self.sheet.write_formula(self.row, SYMBOL, text)?;
        self.sheet.write(self.row, WHAT, what)?.write(self.row, SCENARIO, scenario)?;
        Ok(())
    }

    fn growth(&self, scenario: Scenario) -> Expression<'r> {
        let known = self.v.valuation.growth.iter().find(|g| g.0 == scenario).map_or(Err(Why::NoAnswer), |g| g.1);
        self.pad.cell(self.input(GROWTH + scenario as u16), known)
    }

    fn course(&self) -> Course<Expression<'r>> {
        let (a, name) = (&self.v.assumptions, |name: &str, value| self.pad.cell(name, Ok(value)));
        Course {
            horizon: a.horizon,
            growth_years: name("growth_years", a.growth_years.into()),
            terminal_growth: name("terminal_growth", a.terminal_growth),
            terminal_gap: name("terminal_gap", a.terminal_gap),
            persistence: name("persistence", a.persistence),
        }
    }

    fn start(&self) -> StartingFigures<Expression<'r>> {
        let (i, a) = (&self.v.inputs, &self.v.assumptions);
        let given = |column, value| Ok(self.pad.cell(self.input(column), value));
        let derived = |column, value| self.pad.cell(self.input(column), Ok(value));
        StartingFigures {
            earnings: given(at::EARNINGS, i.earnings),
            cash_flow: given(at::CASH, i.cash_flow),
            book: given(at::BOOK, i.book),
            dividend: given(at::DIVIDEND, i.dividend),
            dividend_each_year: given(at::EACH_YEAR, i.dividend_each_year),
            ffo: given(at::FFO, i.ffo),
            roe: given(at::ROE, i.roe),
            tax: given(at::TAX, i.tax),
            operating_income: given(at::INCOME, i.operating_income),
            reinvestment: given(at::REINVESTED, i.reinvestment),
            revenue: given(at::REVENUE, i.revenue),
            mean_margin: given(at::MARGIN, i.mean_margin),
            net_claims: given(at::CLAIMS, i.net_claims),
            own_pe: given(at::OWN_PE, i.own_pe),
            own_ps: given(at::OWN_PS, i.own_ps),
            own_pb: given(at::OWN_PB, i.own_pb),
            own_ev_ebit: given(at::OWN_EV, i.own_ev_ebit),
            revenue_outstanding: given(at::REVENUE_OUT, i.revenue_outstanding),
            book_outstanding: given(at::BOOK_OUT, i.book_outstanding),
            ebit_outstanding: given(at::EBIT_OUT, i.ebit_outstanding),
            net_claims_outstanding: given(at::CLAIMS_OUT, i.net_claims_outstanding),
            payout: derived(at::PAYOUT, i.payout()),
            payout_of_ffo: derived(at::PAYOUT_FFO, i.payout_of_ffo()),
            exit_pe: derived(at::EXIT, i.exit_pe(a)),
            exit_pffo: derived(at::EXIT_FFO, i.exit_pffo(a)),
        }
    }

    /// The rows of a discount rate: what one unit of each year is worth today, and what one unit grows to by each scenario.
    fn discounted(&mut self, course: &Course<Expression<'r>>, column: u16, at_rate: &str) -> Result<Discounted<'r>, XlsxError> {
        let (i, a) = (&self.v.inputs, &self.v.assumptions);
        let known = if column == at::FIRM { i.firm_rate(a) } else { a.required_return(i) };
        self.head(&format!("One unit of each year, today, {at_rate}"), "")?;
        self.put(RATE, &format!("={}", self.input(column)), known)?;
        let r = self.pad.cell(self.own(RATE), known);
        let mut rate = Rate::new(course, r, |t, factor| self.keep(year(t), factor));
        rate.terminal = self.keep(TERMINAL, rate.terminal);
        self.row += 1;
        let mut grown = Vec::new();
        for (scenario, _) in &self.v.valuation.growth {
            self.head(&format!("One unit grows to, {at_rate}"), scenario.code())?;
            let g = self.keep(GROWTH_OF_ROW, self.growth(*scenario));
            grown.push((*scenario, multiples(course, g, rate.terminal, |t, x| self.keep(year(t), x))));
            self.row += 1;
        }
        self.failed.take().map_or(Ok(Discounted { rate, grown }), Err)
    }

    /// A cell of the grid: its years and what stands beside them, its value, and as what that counts.
    fn cell(&mut self, cell: &Cell, case: &Case<'_, Expression<'r>>, middle: Num) -> Written {
        self.head(cell.model.label(), cell.scenario.map_or("", Scenario::code))?;
        self.weight(cell)?;
        self.pad.take_conditions();
        let mut told = Told { rows: self, years: 0, beside: None };
        let ended = tell(cell.model, case, &mut told);
        let (years, beside) = (told.years, told.beside);
        let mut conditions = self.pad.take_conditions();
        if let Some(scenario) = cell.scenario {
            let growth = self.growth(scenario);
            self.put(GROWTH_OF_ROW, &format!("={growth}"), growth.value())?;
            conditions.push(format!("ISNUMBER({})", self.own(GROWTH_OF_ROW)));
        }
        let (from, to) = (self.own(BESIDE), self.own(BESIDE + self.book.years()));
        let text = match (ended, beside) {
            (Ok(()), Some(beside)) => {
                self.keep(BESIDE, beside);
                conditions.push(format!("COUNT({from}:{to})={}", years + 1));
                format!("=IFERROR(IF(AND({}),SUM({from}:{to}),\"\"),\"\")", conditions.join(","))
            }
            _ => "=\"\"".to_owned(),
        };
        self.failed.take().map_or(Ok(()), Err)?;
        let end = BESIDE + self.book.years() + 1;
        self.put(end, &text, cell.value)?;
        self.counts_as(cell, end, middle)?;
        self.row += 1;
        Ok(())
    }

    fn weight(&mut self, cell: &Cell) -> Written {
        let own_growth = self.v.valuation.own.as_ref().is_some_and(|o| o.own_growth.is_some());
        let text = match cell.scenario {
            Some(s) if own_growth => format!("={}", u8::from(s == Scenario::Own)),
            Some(s) => format!("=weight_{s}"),
            None => "=1".to_owned(),
        };
        self.put(WEIGHT, &text, Ok(cell.scenario.map_or(1.0, |s| self.v.assumptions.scenario_weight(s))))
    }

    /// The logarithm of the value, how far it lies from the median, and as what the value counts.
    fn counts_as(&mut self, cell: &Cell, end: u16, middle: Num) -> Written {
        let (value, model) = (cell.value, cell.model);
        let (worth, ln, distance) = (self.own(end), self.own(end + 1), self.own(end + 2));
        let counts = format!("AND(ISNUMBER({worth}),{}>0,weight_model_{}>0)", self.own(WEIGHT), model.number());
        let log = value.ok().filter(|v| *v > 0.0 && self.v.assumptions.model_weight(model) > 0.0).map(f64::ln).ok_or(Why::NoAnswer);
        self.put(end + 1, &format!("=IF({counts},IF({worth}>0,LN({worth}),\"\"),\"\")"), log)?;
        let summary = |column| format!("Candidates!{}", row_col_to_cell(self.company, column));
        let (median, mad) = (summary(column::MIDDLE), summary(column::MAD));
        let far = log.and_then(|log| Ok((log - middle?).abs()));
        self.put(end + 2, &format!("=IF(ISNUMBER({ln}),ABS({ln}-{median}),\"\")"), far)?;
        let kept =
            format!("=IF({counts},IF({worth}<=0,0,IF(N({mad})>0,IF(0.6745*{distance}/{mad}>outlier_cut,\"\",{worth}),{worth})),\"\")");
        let counted = match cell.status {
            Status::Kept => value,
            Status::Nothing => Ok(0.0),
            Status::Outlier | Status::Undefined | Status::Unweighted => Err(Why::NoAnswer),
        };
        self.put(end + 3, &kept, counted)
    }
}

fn year(t: u32) -> u16 {
    BESIDE + u16::try_from(t).unwrap_or_default()
}

/// Writes what a model tells into its row.
struct Told<'t, 'r, 'b> {
    rows: &'t mut Rows<'r, 'b>,
    years: u32,
    beside: Option<Expression<'r>>,
}

impl<'r> Account<Expression<'r>> for Told<'_, 'r, '_> {
    fn headed(&mut self, _: &'static str, _: &'static str) {}

    fn year(&mut self, _: Expression<'r>, _: Expression<'r>, amount: Expression<'r>, discount: Expression<'r>) {
        self.years += 1;
        self.rows.keep(year(self.years), amount * discount);
    }

    fn part(&mut self, _: &'static str, amount: Expression<'r>) {
        self.beside = Some(self.beside.map_or(amount, |sum| sum + amount));
    }
}
