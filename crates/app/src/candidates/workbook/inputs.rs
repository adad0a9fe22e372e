//! *Assumptions*, named cells, and *Inputs*, a row a company.

use super::{
    Book, Written,
    columns::{GROWTH, inputs as at},
    formula, input,
};
use artemon_core::{
    Why,
    ranking::Candidate,
    valuation::{CompanyValue, Model, RequiredReturn, Scenario},
};
use rust_xlsxwriter::Worksheet;

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

impl Book<'_> {
    /// Named cells: label, value, name.
    pub(super) fn assumptions(&mut self, sheet: &mut Worksheet) -> Written {
        let a = &self.context.settings().assumptions;
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
        sheet.write_with_format(0, 0, format!("Assumptions: {}, as of {}", a.label(), self.t), &self.head)?;
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

    pub(super) fn inputs(&self, sheet: &mut Worksheet) -> Written {
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
        sheet.write(row, 0, self.context.snapshot().symbol(c.company))?.write(row, 1, i.kind.code())?.write(row, 2, i.currency.as_str())?;
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
}
