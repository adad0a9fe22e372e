//! *Valuation*: a row a cell of the grid, with its path year by year.

use super::{
    Book, Written, absolute,
    columns::{GROWTH, PATH, candidates as column, inputs as at},
    formula, input,
};
use artemon_core::{
    Num, Why, stats,
    valuation::{Cell, CompanyValue, Model, Scenario, Status},
};
use rust_xlsxwriter::{Formula, Worksheet, XlsxError, utility::row_col_to_cell};

impl Book<'_> {
    /// A row a cell; gives the first and last row of each company, from 1.
    pub(super) fn valuation(&self, sheet: &mut Worksheet) -> Result<Vec<(u32, u32)>, XlsxError> {
        let years = u16::try_from(self.context.settings().assumptions.horizon).unwrap_or(10);
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
            Formula::new(format!("={}", l.input(0)))
                .set_result(self.context.snapshot().symbol(self.candidates[l.company as usize - 1].company)),
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
        let (middle, mad) = (summary(column::MIDDLE), summary(column::MAD));
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
    pub(super) fn spread_of_logs(v: &CompanyValue) -> (Num, Num) {
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
