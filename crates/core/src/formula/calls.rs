//! The functions that look at other periods, other dates and other companies.

use super::{
    ast::{Expr, Node},
    catalogue::Unit,
    check::{Checker, exactly},
    error::{Checked, FormulaError, Position},
    functions::Function,
    plan::{FiscalStat, FlagPlan, Group, InterimStat, NumPlan, OwnStat, Part, Plan},
};

/// The shortest window of a company's own history.
const MIN_OWN_MONTHS: f64 = 36.0;

impl Checker<'_> {
    pub(super) fn interim_call(&mut self, f: &Function, stat: InterimStat, args: &[Expr], at: Position) -> Checked<Plan> {
        if stat == InterimStat::Acceleration {
            let [x] = exactly(f, args, at)?;
            return self.interim(stat, 0, x);
        }
        let [x, n] = exactly(f, args, at)?;
        let n = self.count(n, u32::from(stat == InterimStat::Average))?;
        self.interim(stat, n, x)
    }

    fn interim(&mut self, stat: InterimStat, n: u32, x: &Expr) -> Checked<Plan> {
        let Plan::Number(body, unit) = self.fiscal_body(x)? else {
            return Err(FormulaError::new(x.at, "A number is needed here; q_count takes conditions."));
        };
        let scale_free = matches!(stat, InterimStat::Yoy | InterimStat::HalfYoy | InterimStat::Acceleration);
        let reporting = Part::Number(&body).is_pure() && (scale_free || !unit.is_money());
        let unit = match stat {
            InterimStat::Yoy | InterimStat::HalfYoy => Unit::Percent,
            InterimStat::Acceleration => Unit::Count,
            _ => unit,
        };
        Ok(Plan::Number(NumPlan::Interim { stat, n, reporting, body: Box::new(body) }, unit))
    }

    pub(super) fn quarter_count(&mut self, f: &Function, args: &[Expr], at: Position) -> Checked<Plan> {
        let [x, n] = exactly(f, args, at)?;
        let n = self.count(n, 1)?;
        match self.fiscal_body(x)? {
            Plan::Flag(body) => Ok(Plan::Number(NumPlan::QuarterCount { n, body: Box::new(body) }, Unit::Count)),
            _ => Err(FormulaError::new(x.at, "A condition is needed here, as in q_count(eps > 0, 8).")),
        }
    }

    fn fiscal_body(&mut self, x: &Expr) -> Checked<Plan> {
        if self.fiscal {
            return Err(FormulaError::new(x.at, "Functions over fiscal years cannot be nested."));
        }
        self.fiscal = true;
        let plan = self.check(x);
        self.fiscal = false;
        plan
    }

    pub(super) fn fiscal_call(&mut self, f: &Function, stat: FiscalStat, args: &[Expr], at: Position) -> Checked<Plan> {
        let [x, n] = exactly(f, args, at)?;
        let n = self.count(n, u32::from(stat != FiscalStat::At))?;
        let Plan::Number(body, unit) = self.fiscal_body(x)? else {
            return Err(FormulaError::new(x.at, "A number is needed here; fy_count takes conditions."));
        };
        use FiscalStat::{Growth, Rises, Slope, Steadiness, Trend, TrendFit};
        let scale_free = matches!(stat, Growth | Trend | TrendFit | Steadiness | Rises);
        let money = matches!(unit, Unit::Money | Unit::PerShare);
        let reporting = Part::Number(&body).is_pure() && (scale_free || !money);
        let unit = match stat {
            Growth | Trend => Unit::Percent,
            TrendFit | Steadiness => Unit::Ratio,
            Rises => Unit::Count,
            Slope if unit == Unit::Percent => Unit::Percent,
            _ => unit,
        };
        Ok(Plan::Number(NumPlan::Fiscal { stat, n, reporting, body: Box::new(body) }, unit))
    }

    pub(super) fn fiscal_count(&mut self, f: &Function, args: &[Expr], at: Position) -> Checked<Plan> {
        let [x, n] = exactly(f, args, at)?;
        let n = self.count(n, 1)?;
        match self.fiscal_body(x)? {
            Plan::Flag(body) => Ok(Plan::Number(NumPlan::FiscalCount { n, body: Box::new(body) }, Unit::Count)),
            _ => Err(FormulaError::new(x.at, "A condition is needed here, as in fy_count(eps > 0, 5).")),
        }
    }

    pub(super) fn own_call(&mut self, f: &Function, stat: OwnStat, args: &[Expr], at: Position) -> Checked<Plan> {
        let [x, window] = exactly(f, args, at)?;
        let window = self.period(window)?;
        if window.1.in_months() < MIN_OWN_MONTHS {
            return Err(FormulaError::new(window.0, "The window must be at least 3y: fewer months say nothing about what is usual."));
        }
        self.refuse_in_fiscal(f.name, at)?;
        let (body, unit) = self.number(x)?;
        let unit = match stat {
            OwnStat::Rank => Unit::Rank,
            OwnStat::Z => Unit::Ratio,
            _ => unit,
        };
        Ok(Plan::Number(NumPlan::Own { stat, window: window.1, of: Part::Number(&body).identity(), body: Box::new(body) }, unit))
    }

    pub(super) fn peers_call(&mut self, f: &Function, rank: bool, args: &[Expr], at: Position) -> Checked<Plan> {
        let groups = Group::ALL.map(Group::code).join(", ");
        let [x, group] = exactly(f, args, at)?;
        self.refuse_in_fiscal(f.name, at)?;
        let found = Group::ALL.into_iter().find(|g| matches!(&group.node, Node::Name(n) if n == g.code()));
        let group = found.ok_or_else(|| FormulaError::new(group.at, format!("The group must be one of {groups}.")))?;
        let (body, unit) = self.number(x)?;
        let unit = if rank { Unit::Rank } else { unit };
        Ok(Plan::Number(NumPlan::Peers { rank, group, of: Part::Number(&body).identity(), body: Box::new(body) }, unit))
    }

    pub(super) fn ago_call(&mut self, f: &Function, change: bool, args: &[Expr], at: Position) -> Checked<Plan> {
        let [x, span] = exactly(f, args, at)?;
        self.refuse_in_fiscal(f.name, at)?;
        let span = self.period(span)?.1;
        match self.check(x)? {
            Plan::Number(body, unit) => Ok(Plan::Number(NumPlan::Ago { span, change, body: Box::new(body) }, unit)),
            Plan::Flag(body) if !change => Ok(Plan::Flag(FlagPlan::Ago { span, body: Box::new(body) })),
            _ => Err(FormulaError::new(x.at, format!("{} works on numbers{}.", f.name, if change { "" } else { " and conditions" }))),
        }
    }

    fn refuse_in_fiscal(&self, name: &str, at: Position) -> Checked<()> {
        if self.fiscal { Err(FormulaError::new(at, format!("{name} cannot be computed from one fiscal year."))) } else { Ok(()) }
    }
}
