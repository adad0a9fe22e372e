//! Random formulas against an interpreter that knows only what docs/formulas.md says: one company, one date, one node at a
//! time, whole histories and groups gone through anew for every answer. It asks the engine for plain measures alone.

use super::{context, records};
use artemon_core::{
    domain::{Day, Kind, Record},
    engine::{Context, Section},
    formula::Value,
    measures::compile,
    panel::CompanyIndex,
};
use artemon_demo::World;
use rand::{RngExt, SeedableRng};
use rand_chacha::ChaCha8Rng;
use std::{cell::RefCell, collections::HashMap};

/// A formula that answers with a number.
#[derive(Clone, Debug)]
enum Number {
    Measure(&'static str),
    Constant(f64),
    Arithmetic(char, Box<Number>, Box<Number>),
    Negative(Box<Number>),
    Math(&'static str, Box<Number>),
    Extreme(bool, Box<Number>, Box<Number>),
    Round(Box<Number>),
    If(Box<Flag>, Box<Number>, Box<Number>),
    Else(Box<Number>, Box<Number>),
    Own(&'static str, Box<Number>, u32),
    RankIn(Box<Number>, &'static str),
    MedianIn(Box<Number>, &'static str),
    Ago(Box<Number>, u32),
    ChangeOf(Box<Number>, u32),
    Fiscal(&'static str, &'static str, u32),
    FiscalCount(&'static str, f64, u32),
}

/// A formula that answers with true or false.
#[derive(Clone, Debug)]
enum Flag {
    Compared(&'static str, Box<Number>, Box<Number>),
    Between(Box<Number>, f64, f64),
    And(Box<Flag>, Box<Flag>),
    Or(Box<Flag>, Box<Flag>),
    Not(Box<Flag>),
    Defined(Box<Number>),
}

impl Number {
    fn text(&self) -> String {
        match self {
            Number::Measure(id) => (*id).to_owned(),
            Number::Constant(v) => format!("{v}"),
            Number::Arithmetic(op, a, b) => format!("({} {op} {})", a.text(), b.text()),
            Number::Negative(a) => format!("(-{})", a.text()),
            Number::Math(name, a) => format!("{name}({})", a.text()),
            Number::Extreme(highest, a, b) => format!("{}({}, {})", if *highest { "max" } else { "min" }, a.text(), b.text()),
            Number::Round(a) => format!("round({}, 2)", a.text()),
            Number::If(c, a, b) => format!("if({}, {}, {})", c.text(), a.text(), b.text()),
            Number::Else(a, b) => format!("else({}, {})", a.text(), b.text()),
            Number::Own(stat, a, years) => format!("own_{stat}({}, {years}y)", a.text()),
            Number::RankIn(a, group) => format!("rank_in({}, {group})", a.text()),
            Number::MedianIn(a, group) => format!("median_in({}, {group})", a.text()),
            Number::Ago(a, months) => format!("ago({}, {months}m)", a.text()),
            Number::ChangeOf(a, months) => format!("change_of({}, {months}m)", a.text()),
            Number::Fiscal(stat, item, n) => format!("fy_{stat}({item}, {n})"),
            Number::FiscalCount(item, above, n) => format!("fy_count({item} > {above}, {n})"),
        }
    }
}

impl Flag {
    fn text(&self) -> String {
        match self {
            Flag::Compared(op, a, b) => format!("({} {op} {})", a.text(), b.text()),
            Flag::Between(a, low, high) => format!("({} between {low} and {high})", a.text()),
            Flag::And(a, b) => format!("({} and {})", a.text(), b.text()),
            Flag::Or(a, b) => format!("({} or {})", a.text(), b.text()),
            Flag::Not(a) => format!("(not {})", a.text()),
            Flag::Defined(a) => format!("defined({})", a.text()),
        }
    }
}

const MEASURES: [&str; 12] = [
    "price",
    "pe",
    "pb",
    "net_margin",
    "dividend_yield",
    "eps_growth(5)",
    "ev_ebit",
    "from_low_52w",
    "quality",
    "intrinsic_value",
    "estimate_revision(90)",
    "market_cap",
];
/// Those that are cheap enough for their histories to be gone through month by month.
const OF_MONTHS: [&str; 6] = ["price", "pe", "pb", "net_margin", "ev_ebit", "dividend_yield"];
const ITEMS: [&str; 5] = ["eps", "revenue", "net_income", "total_assets", "net_margin"];
const GROUPS: [&str; 5] = ["sector", "industry", "country", "sector_country", "universe"];

/// Makes formulas up.
struct Maker(ChaCha8Rng);

impl Maker {
    fn one<T: Copy>(&mut self, of: &[T]) -> T {
        of[self.0.random_range(0..of.len())]
    }

    fn constant(&mut self) -> f64 {
        self.one(&[0.0, 0.05, 0.5, 1.0, 2.0, 10.0, 25.0])
    }

    /// `months`: within a history, where only what is cheap is asked.
    fn number(&mut self, depth: u32, months: bool) -> Number {
        let leaf = if months { self.one(&OF_MONTHS) } else { self.one(&MEASURES) };
        if depth == 0 {
            return if self.0.random_bool(0.8) { Number::Measure(leaf) } else { Number::Constant(self.constant()) };
        }
        let kinds = if months { 9 } else { 14 };
        let pick = self.0.random_range(0..kinds);
        let part = |maker: &mut Maker| Box::new(maker.number(depth - 1, months));
        match pick {
            0..=2 => {
                let op = self.one(&['+', '-', '*', '/']);
                Number::Arithmetic(op, part(self), part(self))
            }
            3 => Number::Negative(part(self)),
            4 => Number::Math(self.one(&["abs", "sqrt", "ln", "exp"]), part(self)),
            5 => Number::Extreme(self.0.random_bool(0.5), part(self), part(self)),
            6 => Number::If(Box::new(self.flag(depth - 1, months)), part(self), part(self)),
            7 => Number::Else(part(self), part(self)),
            8 => Number::Round(part(self)),
            9 => {
                let stat = self.one(&["rank", "median", "mean", "stdev", "low", "high", "z"]);
                Number::Own(stat, Box::new(self.number(depth.min(2) - 1, true)), self.one(&[3, 5, 10]))
            }
            10 => Number::RankIn(part(self), self.one(&GROUPS)),
            11 => Number::MedianIn(part(self), self.one(&GROUPS)),
            12 => {
                let (body, months) = (part(self), self.one(&[1, 3, 12, 30]));
                if self.0.random_bool(0.5) { Number::Ago(body, months) } else { Number::ChangeOf(body, months) }
            }
            _ => {
                let (item, n) = (self.one(&ITEMS), self.one(&[2, 3, 5, 8]));
                if self.0.random_bool(0.2) {
                    return Number::FiscalCount(item, self.constant(), n);
                }
                let stats = ["average", "median", "low", "high", "stdev", "sum", "growth", "rises", "slope"];
                Number::Fiscal(self.one(&stats), item, n)
            }
        }
    }

    fn flag(&mut self, depth: u32, months: bool) -> Flag {
        let number = |maker: &mut Maker| Box::new(maker.number(depth, months));
        match if depth == 0 { self.0.random_range(0..3) } else { self.0.random_range(0..6) } {
            0 => Flag::Compared(self.one(&["<", "<=", ">", ">="]), number(self), number(self)),
            1 => {
                let (a, b) = (self.constant(), self.constant());
                Flag::Between(number(self), a.min(b), a.max(b))
            }
            2 => Flag::Defined(number(self)),
            3 => Flag::And(Box::new(self.flag(depth - 1, months)), Box::new(self.flag(depth - 1, months))),
            4 => Flag::Or(Box::new(self.flag(depth - 1, months)), Box::new(self.flag(depth - 1, months))),
            _ => Flag::Not(Box::new(self.flag(depth - 1, months))),
        }
    }
}

/// Answers formulas the plain way.
struct Oracle {
    engine: Context,
    /// The sessions of each company.
    sessions: HashMap<CompanyIndex, Vec<Day>>,
    asked: RefCell<HashMap<(String, CompanyIndex, Day), Option<f64>>>,
}

impl Oracle {
    fn new() -> Oracle {
        let engine = context(records().iter());
        let mut of_symbol: HashMap<String, Vec<Day>> = HashMap::new();
        for record in records() {
            if let Record::Price { symbol, bar } = record {
                of_symbol.entry(symbol.to_string()).or_default().push(bar.date);
            }
        }
        let sessions = engine.as_of(World::last_day()).companies().map(|c| {
            let mut days = of_symbol.get(c.symbol()).cloned().unwrap_or_default();
            days.sort_unstable();
            (c.index, days)
        });
        let sessions = sessions.collect();
        Oracle { engine, sessions, asked: RefCell::default() }
    }

    /// A measure of one company alone.
    fn plain(&self, text: &str, company: CompanyIndex, t: Day) -> Option<f64> {
        let key = (text.to_owned(), company, t);
        if let Some(known) = self.asked.borrow().get(&key) {
            return *known;
        }
        let formula = self.engine.compile(text).unwrap();
        let answer = self.engine.evaluate(&formula, &[self.engine.as_of(t).company(company)]).value(0).number().ok();
        self.asked.borrow_mut().insert(key, answer);
        answer
    }

    fn number(&self, of: &Number, c: CompanyIndex, t: Day) -> Option<f64> {
        let answer = match of {
            Number::Measure(id) => self.plain(id, c, t),
            Number::Constant(v) => Some(*v),
            Number::Arithmetic(op, a, b) => {
                let (a, b) = (self.number(a, c, t)?, self.number(b, c, t)?);
                match op {
                    '+' => Some(a + b),
                    '-' => Some(a - b),
                    '*' => Some(a * b),
                    _ => (b != 0.0).then(|| a / b),
                }
            }
            Number::Negative(a) => self.number(a, c, t).map(|v| -v),
            Number::Math(name, a) => {
                let a = self.number(a, c, t)?;
                match *name {
                    "abs" => Some(a.abs()),
                    "sqrt" => (a >= 0.0).then(|| a.sqrt()),
                    "ln" => (a > 0.0).then(|| a.ln()),
                    _ => Some(a.exp()),
                }
            }
            Number::Extreme(highest, a, b) => {
                let (a, b) = (self.number(a, c, t)?, self.number(b, c, t)?);
                Some(if (a > b) == *highest { a } else { b })
            }
            Number::Round(a) => self.number(a, c, t).map(|v| (v * 100.0).round() / 100.0),
            Number::If(condition, a, b) => self.number(if self.flag(condition, c, t)? { a } else { b }, c, t),
            Number::Else(a, b) => self.number(a, c, t).or_else(|| self.number(b, c, t)),
            Number::Own(stat, a, years) => self.own(stat, a, *years, c, t),
            Number::RankIn(a, group) => self.rank_in(a, group, c, t),
            Number::MedianIn(a, group) => {
                let mut all = self.peers(a, group, c, t);
                if all.len() < 5 { None } else { Some(median(&mut all)) }
            }
            Number::Ago(a, months) => self.number(a, c, t.plus_months(-months.cast_signed())),
            Number::ChangeOf(a, months) => Some(self.number(a, c, t)? - self.number(a, c, t.plus_months(-months.cast_signed()))?),
            Number::Fiscal(stat, item, n) => self.fiscal(stat, item, *n, c, t),
            Number::FiscalCount(item, above, n) => {
                let years = self.years(item, *n, c, t)?;
                Some(years.iter().filter(|v| *v > above).count() as f64)
            }
        };
        answer.filter(|v| v.is_finite())
    }

    fn flag(&self, of: &Flag, c: CompanyIndex, t: Day) -> Option<bool> {
        match of {
            Flag::Compared(op, a, b) => {
                let (a, b) = (self.number(a, c, t)?, self.number(b, c, t)?);
                Some(match *op {
                    "<" => a < b,
                    "<=" => a <= b,
                    ">" => a > b,
                    _ => a >= b,
                })
            }
            Flag::Between(a, low, high) => self.number(a, c, t).map(|v| *low <= v && v <= *high),
            Flag::And(a, b) => match (self.flag(a, c, t), self.flag(b, c, t)) {
                (Some(false), _) | (_, Some(false)) => Some(false),
                (Some(true), Some(true)) => Some(true),
                _ => None,
            },
            Flag::Or(a, b) => match (self.flag(a, c, t), self.flag(b, c, t)) {
                (Some(true), _) | (_, Some(true)) => Some(true),
                (Some(false), Some(false)) => Some(false),
                _ => None,
            },
            Flag::Not(a) => self.flag(a, c, t).map(|v| !v),
            Flag::Defined(a) => Some(self.number(a, c, t).is_some()),
        }
    }

    /// Month by month: the company's own last session of each month after t − window and before t's month, and t.
    fn own(&self, stat: &str, of: &Number, years: u32, c: CompanyIndex, t: Day) -> Option<f64> {
        let (from, month) = (t.plus_months(-12 * years.cast_signed()), t.month_index());
        let mut ends: Vec<Day> = Vec::new();
        for day in self.sessions[&c].iter().copied().filter(|d| *d > from && d.month_index() < month) {
            match ends.last_mut() {
                Some(last) if last.month_index() == day.month_index() => *last = day,
                _ => ends.push(day),
            }
        }
        let today = self.number(of, c, t);
        let mut all: Vec<f64> = ends.into_iter().filter_map(|d| self.number(of, c, d)).chain(today).collect();
        if all.len() < 36 || (all.len() as f64) < f64::from(years) * 6.0 {
            return None;
        }
        match stat {
            "rank" => Some(rank(today?, &all)),
            "median" => Some(median(&mut all)),
            "mean" => Some(mean(&all)),
            "stdev" => Some(stdev(&all)),
            "low" => all.into_iter().reduce(f64::min),
            "high" => all.into_iter().reduce(f64::max),
            _ => Some((today? - mean(&all)) / stdev(&all)),
        }
    }

    /// The group's defined values; the universe without funds.
    fn peers(&self, of: &Number, group: &str, c: CompanyIndex, t: Day) -> Vec<f64> {
        let at = self.engine.as_of(t);
        let mine = at.company(c);
        let same = |other: &artemon_core::panel::CompanyAt<'_>| {
            let (a, b) = (mine.company(), other.company());
            match group {
                "sector" => a.sector == b.sector,
                "industry" => a.industry == b.industry,
                "country" => a.country == b.country,
                "sector_country" => (&a.sector, &a.country) == (&b.sector, &b.country),
                _ => true,
            }
        };
        let all = at.universe();
        all.iter().filter(|o| o.kind() != Kind::Fund && same(o)).filter_map(|o| self.number(of, o.index, t)).collect()
    }

    fn rank_in(&self, of: &Number, group: &str, c: CompanyIndex, t: Day) -> Option<f64> {
        let mine = self.engine.as_of(t).company(c);
        if mine.kind() == Kind::Fund || !mine.in_universe() {
            return None;
        }
        let all = self.peers(of, group, c, t);
        if all.len() < 5 { None } else { Some(rank(self.number(of, c, t)?, &all)) }
    }

    fn years(&self, item: &str, n: u32, c: CompanyIndex, t: Day) -> Option<Vec<f64>> {
        (0..n).map(|k| self.plain(&format!("fy({item}, {k})"), c, t)).collect()
    }

    fn fiscal(&self, stat: &str, item: &str, n: u32, c: CompanyIndex, t: Day) -> Option<f64> {
        let longer = ["growth", "rises", "slope"].contains(&stat);
        let mut years = match stat {
            "growth" => vec![self.plain(&format!("fy({item}, 0)"), c, t)?, self.plain(&format!("fy({item}, {n})"), c, t)?],
            _ => self.years(item, n + u32::from(longer), c, t)?,
        };
        match stat {
            "average" => Some(mean(&years)),
            "median" => Some(median(&mut years)),
            "low" => years.into_iter().reduce(f64::min),
            "high" => years.into_iter().reduce(f64::max),
            "stdev" => Some(stdev(&years)),
            "sum" => Some(years.iter().sum()),
            "growth" => (years[0] > 0.0 && years[1] > 0.0).then(|| (years[0] / years[1]).powf(1.0 / f64::from(n)) - 1.0),
            "rises" => Some(years.windows(2).filter(|w| w[0] > w[1]).count() as f64),
            _ => {
                // Least squares through (0, oldest), (1, …).
                years.reverse();
                let x: Vec<f64> = (0..years.len()).map(|i| i as f64).collect();
                let (mx, my) = (mean(&x), mean(&years));
                let up: f64 = x.iter().zip(&years).map(|(a, b)| (a - mx) * (b - my)).sum();
                Some(up / x.iter().map(|a| (a - mx).powi(2)).sum::<f64>())
            }
        }
    }
}

fn mean(all: &[f64]) -> f64 {
    all.iter().sum::<f64>() / all.len() as f64
}

fn stdev(all: &[f64]) -> f64 {
    let m = mean(all);
    (all.iter().map(|v| (v - m).powi(2)).sum::<f64>() / (all.len() - 1) as f64).sqrt()
}

fn median(all: &mut [f64]) -> f64 {
    all.sort_by(f64::total_cmp);
    f64::midpoint(all[(all.len() - 1) / 2], all[all.len() / 2])
}

fn rank(x: f64, all: &[f64]) -> f64 {
    let (less, equal) = (all.iter().filter(|v| **v < x).count() as f64, all.iter().filter(|v| **v == x).count() as f64);
    100.0 * (less + (equal - 1.0) / 2.0) / (all.len() as f64 - 1.0)
}

fn agree(found: &Value, expected: Option<f64>) -> bool {
    match (found.number().ok(), expected) {
        (Some(a), Some(b)) => (a - b).abs() <= 1e-9 * b.abs().max(1.0),
        (a, b) => a.is_none() && b.is_none(),
    }
}

/// Each formula for each company at each date, by every way that people's questions take: the universe's section before and
/// after its histories are kept, several formulas together, a company alone.
#[test]
fn random_formulas_answer_as_the_interpreter_does() {
    let (oracle, used) = (Oracle::new(), context(records().iter()));
    let mut maker = Maker(ChaCha8Rng::seed_from_u64(11));
    let numbers: Vec<Number> = (0..300).map(|i| maker.number(1 + i % 3, false)).collect();
    let flags: Vec<Flag> = (0..120).map(|i| maker.flag(1 + i % 2, false)).collect();
    let texts: Vec<String> = numbers.iter().map(Number::text).chain(flags.iter().map(Flag::text)).collect();
    let compiled: Vec<_> = texts.iter().map(|t| compile(t).unwrap_or_else(|e| panic!("{t}: {}", e.message))).collect();
    let (mut defined, mut undefined) = (0, 0);
    for day in ["2019-03-29", "2024-09-17", "2019-03-29", "2022-12-02"] {
        let t: Day = day.parse().unwrap();
        let section = Section::new(&used, t);
        let together = used.evaluate_all(&compiled.iter().collect::<Vec<_>>(), section.rows());
        for (i, formula) in compiled.iter().enumerate() {
            let column = section.column(formula);
            for (place, row) in section.rows().iter().enumerate() {
                let expected = match i.checked_sub(numbers.len()) {
                    None => oracle.number(&numbers[i], row.index, t),
                    Some(flag) => oracle.flag(&flags[flag], row.index, t).map(|b| f64::from(u8::from(b))),
                };
                let alone = (place % 7 == i % 7).then(|| used.evaluate(formula, std::slice::from_ref(row)).value(0));
                for found in [Some(column.value(place)), Some(together[i].value(place)), alone].into_iter().flatten() {
                    assert!(agree(&found, expected), "{} of {} as of {day}: {found:?} and {expected:?}", texts[i], row.symbol());
                }
                if expected.is_some() { defined += 1 } else { undefined += 1 }
            }
        }
    }
    assert!(defined > 10_000 && undefined > 1_000, "{defined} and {undefined}");
}
