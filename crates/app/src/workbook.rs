//! Ranked candidates as a workbook with live formulas: the whole valuation can be followed and changed in a spreadsheet.
//!
//! Four sheets: *Candidates* (a row a company: one value, range, verdict), *Assumptions* (named cells), *Inputs* (a row a
//! company: starting figures, growth, rates) and *Valuation* (a row a cell of the grid with its path year by year). Every
//! formula carries the figure that Artemon computed, so that readers which do not calculate show it too.

use crate::{App, AppError, RankRequest, rank::ranked};
use artemon_core::{
    Num, Why,
    panel::AsOf,
    ranking::Candidate,
    stats,
    valuation::{Cell, CompanyValue, Model, RequiredReturn, Scenario, Status, value_company},
};
use rust_xlsxwriter::{Color, Format, Formula, Workbook, Worksheet, XlsxError, utility::row_col_to_cell};

/// Companies exported at most: each brings some thirty rows of formulas.
const MOST: usize = 200;

/// The first candidates as an XLSX workbook.
///
/// # Errors
/// As [`crate::rank()`]; when the workbook cannot be written.
pub fn candidates_xlsx(app: &App, request: &RankRequest) -> Result<Vec<u8>, AppError> {
    ranked(app, request, |view, candidates| {
        let shown = &candidates[..candidates.len().min(request.rows.unwrap_or(MOST).min(MOST))];
        let written = Book::new(view, shown).and_then(|mut book| book.write());
        written.map_err(|e| AppError::Unusable { what: "The workbook".to_owned(), problem: e.to_string() })
    })
}

struct Book<'v> {
    book: Workbook,
    view: AsOf<'v>,
    candidates: &'v [Candidate],
    values: Vec<CompanyValue>,
    head: Format,
    percent: Format,
    money: Format,
    /// What a person may change.
    given: Format,
    given_percent: Format,
}

type Written = Result<(), XlsxError>;

/// Columns of *Inputs*, in order: heading and what stands in it.
const INPUTS: [&str; 41] = [
    "Symbol",
    "Kind",
    "Currency",
    "Price",
    "Earnings",
    "Free cash flow",
    "Book value",
    "Dividend",
    "Paid out",
    "Dividend in each of 5 years",
    "Own P/E",
    "Own P/S",
    "Own P/B",
    "Own EV/EBIT",
    "Own P/FFO",
    "Median return on equity",
    "Past growth",
    "Analysts' growth",
    "Inflation",
    "AAA yield",
    "Government yield",
    "Tax rate",
    "Operating income",
    "Reinvestment",
    "Revenue",
    "Mean operating margin",
    "Net claims",
    "Debt, outstanding",
    "Interest rate",
    "FFO",
    "Revenue, outstanding",
    "Book, outstanding",
    "EBIT, outstanding",
    "Net claims, outstanding",
    "Payout",
    "Payout of FFO",
    "Exit P/E",
    "Exit P/FFO",
    "Required return",
    "Discount rate of the firm",
    "Own growth",
];
/// The first of the six growth columns after those of [`INPUTS`].
const GROWTH: u16 = 41;

/// Column numbers of *Inputs* that formulas refer to.
mod at {
    pub(super) const PRICE: u16 = 3;
    pub(super) const EARNINGS: u16 = 4;
    pub(super) const CASH: u16 = 5;
    pub(super) const BOOK: u16 = 6;
    pub(super) const DIVIDEND: u16 = 7;
    pub(super) const PAID: u16 = 8;
    pub(super) const EACH_YEAR: u16 = 9;
    pub(super) const OWN_PE: u16 = 10;
    pub(super) const OWN_PS: u16 = 11;
    pub(super) const OWN_PB: u16 = 12;
    pub(super) const OWN_EV: u16 = 13;
    pub(super) const OWN_PFFO: u16 = 14;
    pub(super) const ROE: u16 = 15;
    pub(super) const PAST: u16 = 16;
    pub(super) const ANALYSTS: u16 = 17;
    pub(super) const INFLATION: u16 = 18;
    pub(super) const AAA: u16 = 19;
    pub(super) const GOVERNMENT: u16 = 20;
    pub(super) const TAX: u16 = 21;
    pub(super) const INCOME: u16 = 22;
    pub(super) const REINVESTED: u16 = 23;
    pub(super) const REVENUE: u16 = 24;
    pub(super) const MARGIN: u16 = 25;
    pub(super) const CLAIMS: u16 = 26;
    pub(super) const DEBT: u16 = 27;
    pub(super) const INTEREST: u16 = 28;
    pub(super) const FFO: u16 = 29;
    pub(super) const REVENUE_OUT: u16 = 30;
    pub(super) const BOOK_OUT: u16 = 31;
    pub(super) const EBIT_OUT: u16 = 32;
    pub(super) const CLAIMS_OUT: u16 = 33;
    pub(super) const PAYOUT: u16 = 34;
    pub(super) const PAYOUT_FFO: u16 = 35;
    pub(super) const EXIT: u16 = 36;
    pub(super) const EXIT_FFO: u16 = 37;
    pub(super) const RETURN: u16 = 38;
    pub(super) const FIRM: u16 = 39;
    pub(super) const OWN_GROWTH: u16 = 40;
}

/// Columns of *Valuation* before the path: symbol, model, scenario, weight, growth, rate, terminal growth; then year 0.
const PATH: u16 = 7;

impl<'v> Book<'v> {
    fn new(view: AsOf<'v>, candidates: &'v [Candidate]) -> Result<Book<'v>, XlsxError> {
        let given = Format::new().set_font_color(Color::RGB(0xA9_7A_1E));
        Ok(Book {
            book: Workbook::new(),
            view,
            candidates,
            values: candidates.iter().map(|c| value_company(view, c.company)).collect(),
            head: Format::new().set_bold().set_text_wrap().set_background_color(Color::RGB(0xF1_EA_DD)),
            percent: Format::new().set_num_format("0.0%"),
            money: Format::new().set_num_format("#,##0.00"),
            given_percent: given.clone().set_num_format("0.0%"),
            given,
        })
    }

    fn write(&mut self) -> Result<Vec<u8>, XlsxError> {
        let mut sheets = [Worksheet::new(), Worksheet::new(), Worksheet::new(), Worksheet::new()];
        for (sheet, name) in sheets.iter_mut().zip(["Candidates", "Assumptions", "Inputs", "Valuation"]) {
            sheet.set_name(name)?;
        }
        let [candidates, assumptions, inputs, valuation] = &mut sheets;
        self.assumptions(assumptions)?;
        self.inputs(inputs)?;
        let blocks = self.valuation(valuation)?;
        self.summary(candidates, &blocks)?;
        for sheet in sheets {
            self.book.push_worksheet(sheet);
        }
        self.book.save_to_buffer()
    }

    /// Named cells: label, value, name.
    fn assumptions(&mut self, sheet: &mut Worksheet) -> Written {
        let a = &self.view.settings.assumptions;
        let (r, kind) = match a.required_return {
            RequiredReturn::Fixed(r) => (r, "Required return"),
            RequiredReturn::OverAaa(r) => (r, "Required return above the AAA yield"),
            RequiredReturn::OverGovernment(r) => (r, "Required return above the government yield"),
        };
        let percent = [
            (kind, "required_return", r),
            ("Required return at least, where it depends on rates", "least_return", a.least_required_return),
            ("Terminal growth", "terminal_growth", a.terminal_growth),
            ("Terminal growth below the discount rate by", "terminal_gap", a.terminal_gap),
            ("Growth at least", "growth_low", a.growth_bounds.0),
            ("Growth at most", "growth_high", a.growth_bounds.1),
            ("Self-financed growth at most", "sustainable_cap", a.sustainable_cap),
            ("Margin of safety", "margin", a.margin),
            ("Wider when unsure, by", "wider_when_unsure", a.wider_when_unsure),
            ("Close, within", "close_within", a.close_within),
            ("Cost of debt at least, without an AAA yield", "debt_cost_low", a.cost_of_debt.0),
            ("Cost of debt at most", "debt_cost_high", a.cost_of_debt.1),
            ("Discount rate of the firm below r at most by", "leverage_floor", a.leverage_floor),
        ];
        let plain = [
            ("Years at the scenario's growth", "growth_years", f64::from(a.growth_years)),
            ("Exit P/E at least", "exit_pe_low", a.exit_pe.0),
            ("Exit P/E at most", "exit_pe_high", a.exit_pe.1),
            ("Exit multiple without a history", "usual_pe", a.usual_pe),
            ("Exit P/FFO at least", "exit_pffo_low", a.exit_pffo.0),
            ("Exit P/FFO at most", "exit_pffo_high", a.exit_pffo.1),
            ("Persistence of excess return", "persistence", a.persistence),
            ("Outlier cut", "outlier_cut", a.outlier_cut),
            ("Least quality", "least_quality", a.least_quality),
        ];
        let scenarios = Scenario::ALL.iter().map(|s| (format!("Weight: growth \"{s}\""), format!("weight_{s}"), a.scenario_weight(*s)));
        let models =
            Model::ALL.iter().map(|m| (format!("Weight: {}", m.label()), format!("weight_model_{}", m.number()), a.model_weight(*m)));
        sheet.write_with_format(0, 0, format!("Assumptions: {}, as of {}", a.label(), self.view.t), &self.head)?;
        sheet.write_with_format(0, 1, "Change these", &self.head)?;
        sheet.write_with_format(0, 2, "Name in formulas", &self.head)?;
        let own = |(label, name, value): (&str, &str, f64)| (label.to_owned(), name.to_owned(), value);
        let rows = percent
            .map(own)
            .into_iter()
            .map(|r| (r, true))
            .chain(plain.map(own).into_iter().chain(scenarios).chain(models).map(|r| (r, false)));
        for (row, ((label, name, value), is_percent)) in (1..).zip(rows) {
            sheet.write(row, 0, label)?;
            sheet.write_with_format(row, 1, value, if is_percent { &self.given_percent } else { &self.given })?;
            sheet.write(row, 2, &name)?;
            self.book.define_name(&name, &format!("=Assumptions!$B${}", row + 1))?;
        }
        sheet.write(40, 0, format!("The horizon of {} years is the number of year columns on the sheet Valuation.", a.horizon))?;
        sheet.set_column_width(0, 52)?.set_column_width(1, 14)?.set_column_width(2, 22)?;
        Ok(())
    }

    fn inputs(&self, sheet: &mut Worksheet) -> Written {
        for (column, head) in (0..).zip(INPUTS) {
            sheet.write_with_format(0, column, head, &self.head)?;
        }
        for (column, s) in (GROWTH..).zip(Scenario::ALL) {
            sheet.write_with_format(0, column, format!("Growth: {s}"), &self.head)?;
        }
        let rows = (1..).zip(self.values.iter().zip(self.candidates));
        for (row, (v, c)) in rows {
            self.given_inputs(sheet, row, v, c)?;
            self.derived_inputs(sheet, row, v)?;
        }
        sheet.set_freeze_panes(1, 1)?;
        Ok(())
    }

    fn given_inputs(&self, sheet: &mut Worksheet, row: u32, v: &CompanyValue, c: &Candidate) -> Written {
        let i = &v.inputs;
        sheet.write(row, 0, self.view.snapshot.symbol(c.company))?.write(row, 1, i.kind.code())?.write(row, 2, i.currency.as_str())?;
        let figures = [
            i.price,
            i.earnings,
            i.cash_flow,
            i.book,
            i.dividend,
            i.paid,
            i.dividend_each_year,
            i.own_pe,
            i.own_ps,
            i.own_pb,
            i.own_ev_ebit,
            i.own_pffo,
            i.roe,
            i.past_growth,
            i.analysts_growth,
            i.inflation,
            i.aaa_yield,
            i.government_yield,
            i.tax,
            i.operating_income,
            i.reinvestment,
            i.revenue,
            i.mean_margin,
            i.net_claims,
            i.debt_outstanding,
            i.interest_rate,
            i.ffo,
            i.revenue_outstanding,
            i.book_outstanding,
            i.ebit_outstanding,
            i.net_claims_outstanding,
        ];
        for (column, figure) in (at::PRICE..).zip(figures) {
            match figure {
                Ok(value) => sheet.write_with_format(row, column, value, &self.given)?,
                Err(why) => sheet.write(row, column, why.to_string())?,
            };
        }
        Ok(())
    }

    /// Payouts, exit multiples, rates and growth, as formulas over what is given; what the user assumes of a company is given.
    fn derived_inputs(&self, sheet: &mut Worksheet, row: u32, v: &CompanyValue) -> Written {
        let (i, a, own) = (&v.inputs, &v.assumptions, v.valuation.own.as_deref());
        let ref_to = |column| input(row, column, false);
        let paid = |of| format!("=IF(N({o})>0,MAX(0,MIN(1,N({p})/{o})),0)", o = ref_to(of), p = ref_to(at::PAID));
        formula(sheet, row, at::PAYOUT, &paid(at::EARNINGS), Ok(i.payout()), &self.percent)?;
        formula(sheet, row, at::PAYOUT_FFO, &paid(at::FFO), Ok(i.payout_of_ffo()), &self.percent)?;
        let exit = |of, low, high| format!("=MAX({low},MIN({high},IF(ISNUMBER({o}),{o},usual_pe)))", o = ref_to(of));
        match own.and_then(|o| o.exit_multiple) {
            Some(x) => {
                sheet.write_with_format(row, at::EXIT, x, &self.given)?.write_with_format(row, at::EXIT_FFO, x, &self.given)?;
            }
            None => {
                formula(sheet, row, at::EXIT, &exit(at::OWN_PE, "exit_pe_low", "exit_pe_high"), Ok(i.exit_pe(a)), &self.money)?;
                formula(sheet, row, at::EXIT_FFO, &exit(at::OWN_PFFO, "exit_pffo_low", "exit_pffo_high"), Ok(i.exit_pffo(a)), &self.money)?;
            }
        }
        let over = |rate| format!("=IF(ISNUMBER({y}),MAX(least_return,{y}+required_return),\"\")", y = ref_to(rate));
        let asked = match (own.and_then(|o| o.required_return), a.required_return) {
            (Some(r), _) => Err(r),
            (None, RequiredReturn::Fixed(_)) => Ok("=required_return".to_owned()),
            (None, RequiredReturn::OverAaa(_)) => Ok(over(at::AAA)),
            (None, RequiredReturn::OverGovernment(_)) => Ok(over(at::GOVERNMENT)),
        };
        match asked {
            Ok(text) => formula(sheet, row, at::RETURN, &text, a.required_return(i), &self.percent)?,
            Err(r) => drop(sheet.write_with_format(row, at::RETURN, r, &self.given_percent)?),
        }
        let (price, debt, r) = (ref_to(at::PRICE), ref_to(at::DEBT), ref_to(at::RETURN));
        let least = format!("IF(ISNUMBER({y}),{y},debt_cost_low)", y = ref_to(at::AAA));
        let cost = format!("IF(ISNUMBER({k}),MIN(MAX({k},{least}),MAX(debt_cost_high,{least})),{least})", k = ref_to(at::INTEREST));
        let firm = format!(
            "=IF(AND(ISNUMBER({price}),ISNUMBER({debt}),ISNUMBER({r})),IF({debt}<=0,{r},IF(ISNUMBER({t}),\
             MAX({r}-leverage_floor,({price}*{r}+{debt}*{cost}*(1-{t}))/({price}+{debt})),\"\")),\"\")",
            t = ref_to(at::TAX)
        );
        formula(sheet, row, at::FIRM, &firm, i.firm_rate(a), &self.percent)?;
        match own.and_then(|o| o.own_growth).or(a.own_growth) {
            Some(g) => drop(sheet.write_with_format(row, at::OWN_GROWTH, g, &self.given_percent)?),
            None => drop(sheet.write(row, at::OWN_GROWTH, "none given")?),
        }
        let bounded = |of: String| format!("=IF(ISNUMBER({of}),MAX(growth_low,MIN(growth_high,{of})),\"\")");
        for (column, s) in (GROWTH..).zip(Scenario::ALL) {
            let text = match s {
                Scenario::Past => bounded(ref_to(at::PAST)),
                Scenario::Analysts => bounded(ref_to(at::ANALYSTS)),
                Scenario::Inflation => bounded(ref_to(at::INFLATION)),
                Scenario::Own => bounded(ref_to(at::OWN_GROWTH)),
                Scenario::None => "=MAX(growth_low,MIN(growth_high,0))".to_owned(),
                Scenario::Sustainable => format!(
                    "=IF(ISNUMBER({roe}),MAX(growth_low,MIN(growth_high,MAX(0,MIN(sustainable_cap,{roe}*(1-{p}))))),\"\")",
                    roe = ref_to(at::ROE),
                    p = ref_to(at::PAYOUT)
                ),
            };
            let found = v.valuation.growth.iter().find(|g| g.0 == *s).map_or(Err(Why::NoAnswer), |g| g.1);
            formula(sheet, row, column, &text, found, &self.percent)?;
        }
        Ok(())
    }

    /// A row a cell; gives the first and last row of each company, from 1.
    fn valuation(&self, sheet: &mut Worksheet) -> Result<Vec<(u32, u32)>, XlsxError> {
        let years = u16::try_from(self.view.settings.assumptions.horizon).unwrap_or(10);
        let heads = ["Symbol", "Model", "Scenario", "Weight", "Growth", "Rate", "Terminal growth"];
        for (column, head) in (0..).zip(heads) {
            sheet.write_with_format(0, column, head, &self.head)?;
        }
        for year in 0..=years {
            sheet.write_with_format(0, PATH + year, f64::from(year), &self.head)?;
        }
        for (column, head) in (PATH + years + 1..).zip(["Value", "ln value", "|ln − median|", "Counts as"]) {
            sheet.write_with_format(0, column, head, &self.head)?;
        }
        let (mut row, mut blocks) = (1, Vec::new());
        for (company, v) in (1..).zip(&self.values) {
            let first = row;
            let (middle, _) = Book::spread_of_logs(v);
            for cell in &v.valuation.cells {
                let line = Line { row, company, years, case: (cell.model, cell.scenario) };
                self.cell(sheet, &line, v, cell, middle)?;
                row += 1;
            }
            blocks.push((first + 1, row));
        }
        sheet.set_freeze_panes(1, 1)?;
        Ok(blocks)
    }

    fn cell(&self, sheet: &mut Worksheet, l: &Line, v: &CompanyValue, cell: &Cell, spread_about: Num) -> Written {
        let ((model, scenario), value) = (l.case, cell.value);
        sheet.write_formula(
            l.row,
            0,
            Formula::new(format!("={}", l.input(0))).set_result(self.view.snapshot.symbol(self.candidates[l.company as usize - 1].company)),
        )?;
        sheet.write(l.row, 1, model.label())?.write(l.row, 2, scenario.map_or("", Scenario::code))?;
        let weight = match scenario {
            _ if v.valuation.own.as_ref().is_some_and(|o| o.own_growth.is_some()) && scenario.is_some() => {
                format!("={}", u8::from(scenario == Some(Scenario::Own)))
            }
            Some(s) => format!("=weight_{s}"),
            None => "=1".to_owned(),
        };
        let (a, g) = (
            &v.assumptions,
            scenario.map_or(Ok(0.0), |s| v.valuation.growth.iter().find(|x| x.0 == s).map_or(Err(Why::NoAnswer), |x| x.1)),
        );
        formula(sheet, l.row, 3, &weight, Ok(scenario.map_or(1.0, |s| a.scenario_weight(s))), &self.money)?;
        let growth = scenario.map_or("=0".to_owned(), |s| format!("={}", l.input(GROWTH + u16::from(s as u8))));
        formula(sheet, l.row, 4, &growth, g, &self.percent)?;
        let by_firm = matches!(model, Model::FirmCashFlow | Model::EarningsPower);
        let rate = if by_firm { v.inputs.firm_rate(a) } else { a.required_return(&v.inputs) };
        formula(sheet, l.row, 5, &format!("={}", l.input(if by_firm { at::FIRM } else { at::RETURN })), rate, &self.percent)?;
        let terminal = rate.map(|r| a.terminal_growth.min(r - a.terminal_gap));
        let text = format!("=IF(ISNUMBER({r}),MIN(terminal_growth,{r}-terminal_gap),\"\")", r = l.own(5));
        formula(sheet, l.row, 6, &text, terminal, &self.percent)?;
        self.path(sheet, l, v, g.and_then(|g| Ok((g, rate?, terminal?))))?;
        let answer = format!("=IF(AND(ISNUMBER({g}),ISNUMBER({r})),IFERROR({},\"\"),\"\")", l.value(), g = l.own(4), r = l.own(5));
        let end = PATH + l.years + 1;
        formula(sheet, l.row, end, &answer, value, &self.money)?;
        let (worth, ln) = (l.own(end), l.own(end + 1));
        let counts = format!("AND(ISNUMBER({worth}),{}>0,weight_model_{}>0)", l.own(3), model.number());
        let log = value.ok().filter(|v| *v > 0.0 && a.model_weight(model) > 0.0).map(f64::ln);
        formula(
            sheet,
            l.row,
            end + 1,
            &format!("=IF({counts},IF({worth}>0,LN({worth}),\"\"),\"\")"),
            log.ok_or(Why::NoAnswer),
            &self.money,
        )?;
        let summary = |column| format!("Candidates!{}", row_col_to_cell(l.company, column));
        let (middle, mad) = (summary(summary_at::MIDDLE), summary(summary_at::MAD));
        let distance = log.ok_or(Why::NoAnswer).and_then(|log| Ok((log - spread_about?).abs()));
        formula(sheet, l.row, end + 2, &format!("=IF(ISNUMBER({ln}),ABS({ln}-{middle}),\"\")"), distance, &self.money)?;
        let kept = format!(
            "=IF({counts},IF({worth}<=0,0,IF(N({mad})>0,IF(0.6745*{d}/{mad}>outlier_cut,\"\",{worth}),{worth})),\"\")",
            d = l.own(end + 2)
        );
        let counts_as = match cell.status {
            Status::Kept => value,
            Status::Nothing => Ok(0.0),
            Status::Outlier | Status::Undefined | Status::Unweighted => Err(Why::NoAnswer),
        };
        formula(sheet, l.row, end + 3, &kept, counts_as, &self.money)
    }

    /// Median and median absolute deviation of the logarithms of what counts, extremes included.
    fn spread_of_logs(v: &CompanyValue) -> (Num, Num) {
        let counting = |c: &&Cell| matches!(c.status, Status::Kept | Status::Outlier);
        let logs: Vec<f64> = v.valuation.cells.iter().filter(counting).filter_map(|c| Some(c.value.ok()?.ln())).collect();
        let middle = stats::median(&logs);
        let mad = middle.and_then(|m| stats::median(&logs.iter().map(|l| (l - m).abs()).collect::<Vec<f64>>()));
        (middle.ok_or(Why::NoAnswer), mad.ok_or(Why::NoAnswer))
    }

    /// The multiples of the starting figure year by year; of the book value for model 8.
    fn path(&self, sheet: &mut Worksheet, l: &Line, v: &CompanyValue, known: Result<(f64, f64, f64), Why>) -> Written {
        sheet.write(l.row, PATH, 1)?;
        let (mut x, a, i) = (1.0, &v.assumptions, &v.inputs);
        for year in 1..=l.years {
            let before = l.own(PATH + year - 1);
            let head = row_col_to_cell(0, PATH + year);
            let (g, r, terminal) = (l.own(4), l.own(5), l.own(6));
            let text = if l.case.0 == Model::ExcessReturn {
                let (roe, p) = (l.input(at::ROE), l.input(at::PAYOUT));
                format!("=IFERROR({before}*(1+(1-{p})*({roe}+({r}-{roe})*{head}/{n})),\"\")", n = l.years)
            } else {
                format!(
                    "=IFERROR({before}*(1+IF({head}<=growth_years,{g},{g}+({terminal}-{g})*({head}-growth_years)/({n}-growth_years))),\"\")",
                    n = l.years
                )
            };
            let next = known.and_then(|(g, r, terminal)| {
                let (t, n, first) = (f64::from(year), f64::from(l.years), f64::from(a.growth_years));
                let rate = match l.case.0 {
                    Model::ExcessReturn => (1.0 - i.payout()) * (i.roe? + (r - i.roe?) * t / n),
                    _ if t <= first => g,
                    _ => g + (terminal - g) * (t - first) / (n - first),
                };
                x *= 1.0 + rate;
                Ok(x)
            });
            formula(sheet, l.row, PATH + year, &text, next, &self.money)?;
        }
        Ok(())
    }

    fn summary(&self, sheet: &mut Worksheet, blocks: &[(u32, u32)]) -> Written {
        use summary_at::{AGREEMENT, BUY_BELOW, HIGH, LOW, MAD, MARGIN, MIDDLE, MODELS, VALUE};
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
        let years = u16::try_from(self.view.settings.assumptions.horizon).unwrap_or(10);
        let end = PATH + years + 1;
        let weights: Vec<String> = Model::ALL.iter().map(|m| format!("weight_model_{}", m.number())).collect();
        for (row, (c, (v, &(first, last)))) in (1..).zip(self.candidates.iter().zip(self.values.iter().zip(blocks))) {
            let (company, val) = (self.view.snapshot.company(c.company), &v.valuation);
            sheet.write(row, 0, row)?.write(row, 1, self.view.snapshot.symbol(c.company))?.write(row, 2, company.name.as_str())?;
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
            let a = &self.view.settings.assumptions;
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

/// Column numbers of *Candidates* that formulas refer to.
mod summary_at {
    pub(super) const VALUE: u16 = 6;
    pub(super) const LOW: u16 = 7;
    pub(super) const HIGH: u16 = 8;
    pub(super) const AGREEMENT: u16 = 9;
    pub(super) const MARGIN: u16 = 10;
    pub(super) const BUY_BELOW: u16 = 11;
    pub(super) const MIDDLE: u16 = 16;
    pub(super) const MAD: u16 = 17;
    pub(super) const MODELS: u16 = 18;
}

/// A row of *Valuation*.
struct Line {
    row: u32,
    /// The company's row on *Inputs* and *Candidates*.
    company: u32,
    years: u16,
    case: (Model, Option<Scenario>),
}

impl Line {
    fn own(&self, column: u16) -> String {
        row_col_to_cell(self.row, column)
    }

    fn input(&self, column: u16) -> String {
        input(self.company, column, true)
    }

    /// The model as a formula, without the equals sign.
    fn value(&self) -> String {
        let i = |column| self.input(column);
        let (g, r, terminal) = (self.own(4), self.own(5), self.own(6));
        let (from, to, n) = (self.own(PATH + 1), self.own(PATH + self.years), self.years);
        let (head_from, head_to) = (absolute(0, PATH + 1), absolute(0, PATH + self.years));
        let present = format!("SUMPRODUCT({from}:{to}/(1+{r})^{head_from}:{head_to})");
        let last = format!("(1+{r})^{n}");
        let multiple = |start: u16, payout: u16, exit: u16| {
            format!("IF(N({s})>0,{s}*({p}*{present}+{to}*{x}/{last}),\"\")", s = i(start), p = i(payout), x = i(exit))
        };
        let cash = |start: &str| format!("{start}*({present}+{to}*(1+{terminal})/({r}-{terminal})/{last})");
        match self.case.0 {
            Model::EarningsMultiple => multiple(at::EARNINGS, at::PAYOUT, at::EXIT),
            Model::PropertyCashFlow => multiple(at::FFO, at::PAYOUT_FFO, at::EXIT_FFO),
            Model::OwnerCashFlow => format!("IF(N({f})>0,{},\"\")", cash(&i(at::CASH)), f = i(at::CASH)),
            Model::FirmCashFlow => {
                let start = format!("({}*(1-{})+{})", i(at::INCOME), i(at::TAX), i(at::REINVESTED));
                format!("IF(AND(ISNUMBER({c}),{start}>0),{}-{c},\"\")", cash(&start), c = i(at::CLAIMS))
            }
            Model::ResidualIncome => {
                let (b, e, p) = (i(at::BOOK), i(at::EARNINGS), i(at::PAYOUT));
                let all = format!("SUM({from}:{to})");
                let excess = format!("{e}*{present}-{b}*(1-1/{last})-(1-{p})*{e}*({present}-{all}/{last})");
                let last_excess = format!("({e}*{to}-{r}*({b}+(1-{p})*{e}*({all}-{to})))");
                format!("IF(AND(N({b})>0,N({e})>0),{b}+{excess}+persistence*{last_excess}/(1+{r}-persistence)/{last},\"\")")
            }
            Model::EarningsPower => format!(
                "IF(AND(N({m})>0,ISNUMBER({c})),{m}*{v}*(1-{t})/{r}-{c},\"\")",
                m = i(at::MARGIN),
                v = i(at::REVENUE),
                t = i(at::TAX),
                c = i(at::CLAIMS)
            ),
            Model::OwnMultiple => {
                let product = |a, b| format!("N({})*N({})", i(a), i(b));
                let firm = format!(
                    "IF(AND(ISNUMBER({e}),ISNUMBER({x}),ISNUMBER({c})),{e}*{x}-{c},0)",
                    e = i(at::EBIT_OUT),
                    x = i(at::OWN_EV),
                    c = i(at::CLAIMS_OUT)
                );
                let parts =
                    [product(at::EARNINGS, at::OWN_PE), product(at::REVENUE_OUT, at::OWN_PS), product(at::BOOK_OUT, at::OWN_PB), firm];
                let count = parts.iter().map(|p| format!("({p}>0)")).collect::<Vec<_>>().join("+");
                let sum = parts.iter().map(|p| format!("MAX(0,{p})")).collect::<Vec<_>>().join("+");
                format!("IF({count}>=2,({sum})/({count}),\"\")")
            }
            Model::DividendStream => format!(
                "IF(AND(N({y})=1,N({d})>0),{d}*((1+{terminal})+(growth_years+{n})/2*({g}-{terminal}))/({r}-{terminal}),\"\")",
                y = i(at::EACH_YEAR),
                d = i(at::DIVIDEND)
            ),
            Model::ExcessReturn => {
                let (before_from, before_to) = (self.own(PATH), self.own(PATH + self.years - 1));
                let (b, roe) = (i(at::BOOK), i(at::ROE));
                let above = format!("({roe}+({r}-{roe})*{head_from}:{head_to}/{n}-{r})");
                format!("IF(N({b})>0,{b}*(1+SUMPRODUCT({above}*{before_from}:{before_to}/(1+{r})^{head_from}:{head_to})),\"\")")
            }
        }
    }
}

/// A cell of *Inputs*, with the sheet's name where another sheet asks.
fn input(row: u32, column: u16, from_elsewhere: bool) -> String {
    let cell = format!("${}${}", letters(column), row + 1);
    if from_elsewhere { format!("Inputs!{cell}") } else { cell }
}

fn absolute(row: u32, column: u16) -> String {
    format!("${}${}", letters(column), row + 1)
}

fn letters(column: u16) -> String {
    rust_xlsxwriter::utility::column_number_to_name(column)
}

/// A formula with the figure that Artemon computed; or why there is none.
fn formula(sheet: &mut Worksheet, row: u32, column: u16, text: &str, result: Num, format: &Format) -> Written {
    let result = result.map_or_else(|why| why.to_string(), |v| v.to_string());
    sheet.write_formula_with_format(row, column, Formula::new(text).set_result(result), format)?;
    Ok(())
}
