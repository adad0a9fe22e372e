//! The functions that look at other periods, other dates and other companies.

use super::{
    ast::{Expr, Node},
    check::{Checked, Checker, exactly},
    error::{FormulaError, Position},
    plan::{FiscalStat, Group, NumPlan, OwnStat, Part, Plan, QuarterStat, Unit},
};
use crate::formula::plan::FlagPlan;

/// The shortest window of a company's own history.
const MIN_OWN_MONTHS: f64 = 36.0;

impl Checker<'_> {
    /// A call of a function over fiscal years, quarters, own months or earlier dates; `None` for other names.
    pub(super) fn over_time(&mut self, name: &str, args: &[Expr], at: Position) -> Option<Checked<Plan>> {
        if let Some(stat) = fiscal_stat(name) {
            return Some(self.fiscal_call(name, stat, args, at));
        }
        if let Some(stat) = own_stat(name) {
            return Some(self.own_call(name, stat, args, at));
        }
        Some(match name {
            "fy_count" => self.fiscal_count(args, at),
            "q" => self.quarter_call(name, QuarterStat::At, args, at),
            "q_yoy" => self.quarter_call(name, QuarterStat::Yoy, args, at),
            "q_average" => self.quarter_call(name, QuarterStat::Average, args, at),
            "q_acceleration" if self.internal => self.acceleration(args, at),
            "q_count" => self.quarter_count(args, at),
            "ago" | "change_of" => self.ago_call(name, args, at),
            _ => return None,
        })
    }

    fn quarter_call(&mut self, name: &str, stat: QuarterStat, args: &[Expr], at: Position) -> Checked<Plan> {
        let [x, n] = exactly(name, "a formula of statement items and a number of quarters", args, at)?;
        let n = self.count(n, u32::from(stat == QuarterStat::Average))?;
        self.quarter(stat, n, x)
    }

    fn acceleration(&mut self, args: &[Expr], at: Position) -> Checked<Plan> {
        let [x] = exactly("acceleration", "a formula of statement items", args, at)?;
        self.quarter(QuarterStat::Acceleration, 0, x)
    }

    fn quarter(&mut self, stat: QuarterStat, n: u32, x: &Expr) -> Checked<Plan> {
        let Plan::Number(body, unit) = self.fiscal_body(x)? else {
            return Err(FormulaError::new(x.at, "A number is needed here; q_count takes conditions."));
        };
        let scale_free = matches!(stat, QuarterStat::Yoy | QuarterStat::Acceleration);
        let reporting = Part::Number(&body).is_pure() && (scale_free || !unit.is_money());
        let unit = match stat {
            QuarterStat::Yoy => Unit::Percent,
            QuarterStat::Acceleration => Unit::Count,
            _ => unit,
        };
        Ok(Plan::Number(NumPlan::Quarter { stat, n, reporting, body: Box::new(body) }, unit))
    }

    fn quarter_count(&mut self, args: &[Expr], at: Position) -> Checked<Plan> {
        let [x, n] = exactly("q_count", "a condition and a number of quarters", args, at)?;
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

    fn fiscal_call(&mut self, name: &str, stat: FiscalStat, args: &[Expr], at: Position) -> Checked<Plan> {
        let [x, n] = exactly(name, "a formula of statement items and a number of years", args, at)?;
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

    fn fiscal_count(&mut self, args: &[Expr], at: Position) -> Checked<Plan> {
        let [x, n] = exactly("fy_count", "a condition and a number of years", args, at)?;
        let n = self.count(n, 1)?;
        match self.fiscal_body(x)? {
            Plan::Flag(body) => Ok(Plan::Number(NumPlan::FiscalCount { n, body: Box::new(body) }, Unit::Count)),
            _ => Err(FormulaError::new(x.at, "A condition is needed here, as in fy_count(eps > 0, 5).")),
        }
    }

    fn own_call(&mut self, name: &str, stat: OwnStat, args: &[Expr], at: Position) -> Checked<Plan> {
        let [x, window] = exactly(name, "a formula and a window such as 10y", args, at)?;
        let window = self.period(window)?;
        if window.1.in_months() < MIN_OWN_MONTHS {
            return Err(FormulaError::new(window.0, "The window must be at least 3y: fewer months say nothing about what is usual."));
        }
        self.refuse_in_fiscal(name, at)?;
        let (body, unit) = self.number(x)?;
        let key = self.canonical(x);
        let unit = match stat {
            OwnStat::Rank => Unit::Rank,
            OwnStat::Z => Unit::Ratio,
            _ => unit,
        };
        Ok(Plan::Number(NumPlan::Own { stat, window: window.1, key, body: Box::new(body) }, unit))
    }

    pub(super) fn peers_call(&mut self, name: &str, args: &[Expr], at: Position) -> Checked<Plan> {
        let groups = Group::ALL.map(Group::code).join(", ");
        let [x, group] = exactly(name, &format!("a formula and a group ({groups})"), args, at)?;
        self.refuse_in_fiscal(name, at)?;
        let found = Group::ALL.into_iter().find(|g| matches!(&group.node, Node::Name(n) if n == g.code()));
        let group = found.ok_or_else(|| FormulaError::new(group.at, format!("The group must be one of {groups}.")))?;
        let (body, unit) = self.number(x)?;
        let rank = name == "rank_in";
        let key = format!("{}|{}", group.code(), self.canonical(x));
        let unit = if rank { Unit::Rank } else { unit };
        Ok(Plan::Number(NumPlan::Peers { rank, group, key, body: Box::new(body) }, unit))
    }

    fn ago_call(&mut self, name: &str, args: &[Expr], at: Position) -> Checked<Plan> {
        let [x, span] = exactly(name, "a formula and a period such as 1y", args, at)?;
        self.refuse_in_fiscal(name, at)?;
        let span = self.period(span)?.1;
        let change = name == "change_of";
        match self.check(x)? {
            Plan::Number(body, unit) => Ok(Plan::Number(NumPlan::Ago { span, change, body: Box::new(body) }, unit)),
            Plan::Flag(body) if !change => Ok(Plan::Flag(FlagPlan::Ago { span, body: Box::new(body) })),
            _ => Err(FormulaError::new(x.at, format!("{name} works on numbers{}.", if change { "" } else { " and conditions" }))),
        }
    }

    fn refuse_in_fiscal(&self, name: &str, at: Position) -> Checked<()> {
        if self.fiscal { Err(FormulaError::new(at, format!("{name} cannot be computed from one fiscal year."))) } else { Ok(()) }
    }
}

fn fiscal_stat(name: &str) -> Option<FiscalStat> {
    Some(match name {
        "fy" => FiscalStat::At,
        "fy_average" => FiscalStat::Average,
        "fy_median" => FiscalStat::Median,
        "fy_low" => FiscalStat::Low,
        "fy_high" => FiscalStat::High,
        "fy_stdev" => FiscalStat::Stdev,
        "fy_sum" => FiscalStat::Sum,
        "fy_growth" => FiscalStat::Growth,
        "fy_trend" => FiscalStat::Trend,
        "fy_trend_fit" => FiscalStat::TrendFit,
        "fy_steadiness" => FiscalStat::Steadiness,
        "fy_slope" => FiscalStat::Slope,
        "fy_rises" => FiscalStat::Rises,
        _ => return None,
    })
}

fn own_stat(name: &str) -> Option<OwnStat> {
    Some(match name {
        "own_rank" => OwnStat::Rank,
        "own_median" => OwnStat::Median,
        "own_mean" => OwnStat::Mean,
        "own_stdev" => OwnStat::Stdev,
        "own_low" => OwnStat::Low,
        "own_high" => OwnStat::High,
        "own_z" => OwnStat::Z,
        _ => return None,
    })
}
