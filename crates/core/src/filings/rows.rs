//! Rows of statements from a filing: what is new or differs from what was known on the day of filing.

use super::{
    concept::table,
    fact::Fact,
    fiscal::{FiscalCalendar, FiscalPart, Length, Part},
    items::{ItemFigure, PeriodItems, items},
    known::Known,
    outcome::Outcome,
    sort::{Candidate, Candidates, Document, Parts, Serves, candidates, cover_count, parts},
};
use crate::domain::{Currency, Day, Item, ItemKind, Items, Kind, Period, Statement};
use rust_decimal::{Decimal, prelude::ToPrimitive};
use std::{collections::BTreeMap, sync::Arc};

/// Days after the end of its period within which a cover counts the shares.
const COVER_DAYS: std::ops::RangeInclusive<i32> = 0..=120;

/// Whose filings are read.
#[derive(Clone, Debug)]
pub struct Filer {
    /// The company.
    pub company_id: Arc<str>,
    /// Some concepts serve companies of one kind only.
    pub kind: Kind,
    /// When its fiscal years end; `None` to take it from the filing.
    pub calendar: Option<FiscalCalendar>,
    /// How much later than the calendar year in which they end its fiscal years are called; `None` to take it from the filing, else
    /// from what is known.
    pub label_shift: Option<i32>,
}

/// A filing.
#[derive(Clone, Debug)]
pub struct Filing {
    /// The day on which it became public.
    pub filed_on: Day,
    /// The reference to the document.
    pub source: String,
    /// What it says about itself.
    pub document: Document,
    /// Its facts.
    pub facts: Vec<Fact>,
    /// Whether its days are rounded to the ends of months: then the last day of a period that is known already stays.
    pub rounded_days: bool,
}

/// What a filing came to.
#[derive(Clone, Debug, Default)]
pub struct Filed {
    /// The rows, by fiscal year and period.
    pub rows: Vec<Statement>,
    /// What became of each fact.
    pub outcomes: Vec<Outcome>,
    /// What a person may want to look at.
    pub warnings: Vec<Warning>,
}

/// What a person may want to look at.
#[derive(Clone, Debug, PartialEq)]
pub enum Warning {
    /// An amount paid or received is stated as negative; its absolute value was taken.
    Negative {
        /// The fact.
        fact: usize,
        /// The item.
        item: Item,
    },
    /// The cover counts the shares on a day that cannot be right; the count was left out.
    CoverDay {
        /// That day.
        day: Day,
    },
}

impl Filing {
    /// The rows that the filing adds to what is known of the company by its day. They are added to it.
    ///
    /// Of a period that is known already only items that are new or differ are in a row. Nothing is derived but quarters from figures
    /// to date: Q2 = six months − Q1, Q3 = nine months − Q1 − Q2 (or − H1), item by item where the quarter itself is not stated; per-share
    /// figures, averages of shares and ratios never.
    pub fn rows(&self, filer: &Filer, known: &mut Known) -> Filed {
        let mut sorted = candidates(&self.facts, &self.document, filer.kind);
        let Some(currency) = sorted.currency else {
            sorted.all.iter().for_each(|c| sorted.outcomes[c.fact] = Some(Outcome::Stub));
            return Filed { outcomes: ended(sorted.outcomes), ..Filed::default() };
        };
        let calendar = filer.calendar.or_else(|| FiscalCalendar::of_years(year_ends(&sorted))).unwrap_or(FiscalCalendar { end_month: 12 });
        let document_end = self.document.period_end.or_else(|| latest_end(&sorted));
        let shift = self.shift(filer, calendar, document_end, known);
        let states_quarter = sorted
            .all
            .iter()
            .any(|c| c.length().is_some_and(|(last, length)| length == Length::Quarter && calendar.quarters(last).is_some()));
        let is_quarterly = |year: i32| self.document.is_quarterly || states_quarter || known.has(year + shift, Period::Q1, self.filed_on);
        let parts = parts(&self.facts, &mut sorted, calendar, is_quarterly);
        let mut run = Run {
            filing: self,
            filer,
            currency,
            shift,
            parts,
            known,
            outcomes: sorted.outcomes,
            periods: BTreeMap::new(),
            filed: Filed::default(),
        };
        run.items();
        run.quarters_from_sums();
        run.cover(document_end);
        run.rows();
        Filed { outcomes: ended(run.outcomes), ..run.filed }
    }

    /// The ends of the twelve months that it states figures of, and the latest end of 3, 6, 9 or 12 months.
    #[must_use]
    pub fn ends(&self, kind: Kind) -> (Vec<Day>, Option<Day>) {
        let sorted = candidates(&self.facts, &self.document, kind);
        (year_ends(&sorted), latest_end(&sorted))
    }

    fn shift(&self, filer: &Filer, calendar: FiscalCalendar, document_end: Option<Day>, known: &Known) -> i32 {
        let stated = || Some(self.document.fiscal_year? - calendar.year_of(document_end?));
        let of_known = || known.newest_year(self.filed_on).map(|(label, end)| label - calendar.year_of(end));
        filer.label_shift.or_else(stated).or_else(of_known).unwrap_or(0)
    }
}

/// Every candidate has its outcome by now.
fn ended(outcomes: Vec<Option<Outcome>>) -> Vec<Outcome> {
    outcomes.into_iter().map(|o| o.unwrap_or(Outcome::Stub)).collect()
}

fn year_ends(sorted: &Candidates) -> Vec<Day> {
    let year = |c: &Candidate| c.length().filter(|(_, length)| *length == Length::Year).map(|(last, _)| last);
    sorted.all.iter().filter_map(year).collect()
}

/// The latest end of a duration of 3, 6, 9 or 12 months.
fn latest_end(sorted: &Candidates) -> Option<Day> {
    sorted.all.iter().filter_map(|c| c.length().map(|(last, _)| last)).max()
}

/// A figure of a row.
#[derive(Clone, Debug)]
struct RowFigure {
    figure: ItemFigure,
    /// How often half a unit it may be off: twice where it is a difference.
    halves: Decimal,
}

/// The items of a row; `None` stands where facts contradict each other.
type RowItems = BTreeMap<Item, Option<RowFigure>>;

struct Run<'a> {
    filing: &'a Filing,
    filer: &'a Filer,
    currency: Currency,
    /// Label of a fiscal year − the calendar year in which it ends.
    shift: i32,
    parts: Parts,
    known: &'a mut Known,
    outcomes: Vec<Option<Outcome>>,
    /// What the filing gives of each period that may have a row, by year and period.
    periods: BTreeMap<(i32, Period), RowItems>,
    filed: Filed,
}

impl Run<'_> {
    /// An outcome is raised, never lowered: a fact that serves two items is used when one of them uses it.
    fn raise(&mut self, fact: usize, outcome: Outcome) {
        self.outcomes[fact] = self.outcomes[fact].max(Some(outcome));
    }

    fn raise_all(&mut self, figures: &[&ItemFigure], outcome: Outcome) {
        for fact in figures.iter().flat_map(|f| &f.facts) {
            self.raise(*fact, outcome);
        }
    }

    /// The items of periods that are stated as such.
    fn items(&mut self) {
        for fact in self.parts.members.values().flatten().map(|c| c.fact) {
            let outcome = self.outcomes[fact];
            self.outcomes[fact] = outcome.or(Some(Outcome::Superseded));
        }
        for (FiscalPart { year, part }, facts) in &self.parts.facts {
            if let Part::Row(period) = part {
                let stated = |figure| RowFigure { figure, halves: Decimal::ONE };
                let row = items(facts, self.filer.kind).into_iter().map(|(item, figure)| (item, figure.map(stated)));
                self.periods.insert((*year, *period), row.collect());
            }
        }
    }

    /// Figures to date become those of their last quarter.
    fn quarters_from_sums(&mut self) {
        let to_date = |p: &&FiscalPart| !matches!(p.part, Part::Row(_));
        let parts: Vec<FiscalPart> = self.parts.facts.keys().filter(to_date).copied().collect();
        for part in parts {
            let quarter = if part.part == Part::SixMonths { Period::Q2 } else { Period::Q3 };
            let sums = items(&self.parts.facts[&part], self.filer.kind);
            self.stated_otherwise(part, quarter);
            let stated = self.periods.get(&(part.year, quarter));
            let missing: PeriodItems =
                sums.iter().filter(|(item, _)| !stated.is_some_and(|s| s.contains_key(item))).map(|(i, f)| (*i, f.clone())).collect();
            let figures: Vec<&ItemFigure> = missing.values().flatten().collect();
            self.raise_all(&figures, Outcome::YearToDate);
            let flows = missing.iter().filter_map(|(item, figure)| Some((*item, figure.as_ref()?)));
            let flows = flows.filter(|(item, _)| item.kind() == ItemKind::Flow);
            let alone: Vec<(Item, Option<RowFigure>)> = flows.map(|(item, sum)| (item, self.alone(part, item, sum))).collect();
            if part.part == Part::SixMonths && alone.iter().any(|(_, figure)| figure.is_none()) {
                let stated = |figure| RowFigure { figure, halves: Decimal::ONE };
                let half = sums.into_iter().map(|(item, figure)| (item, figure.map(stated))).collect();
                self.periods.insert((part.year, Period::H1), half);
            } else {
                let row = self.periods.entry((part.year, quarter)).or_default();
                row.extend(alone.into_iter().filter(|(_, figure)| figure.is_some()));
            }
        }
    }

    /// Facts to date for an item that the quarter itself has.
    fn stated_otherwise(&mut self, part: FiscalPart, quarter: Period) {
        let Some(stated) = self.periods.get(&(part.year, quarter)) else { return };
        let has = |c: &Serves| match c {
            Serves::Standard(id) => table().get(*id).items(self.filer.kind).any(|item| stated.contains_key(&item)),
            Serves::Own(item, ..) => stated.contains_key(item),
        };
        let facts: Vec<usize> = self.parts.members[&part].iter().filter(|c| has(&c.concept)).map(|c| c.fact).collect();
        for fact in facts {
            // Those that contradict or repeat others say so.
            if self.outcomes[fact] == Some(Outcome::Superseded) {
                self.raise(fact, Outcome::YearToDate);
            }
        }
    }

    /// A sum to date without the quarters before: `None` where one of them is not known.
    fn alone(&self, part: FiscalPart, item: Item, sum: &ItemFigure) -> Option<RowFigure> {
        let of = |period| self.figure(part.year, period, item);
        let before = match part.part {
            Part::SixMonths => of(Period::Q1),
            _ => of(Period::Q1).zip(of(Period::Q2)).map(|(q1, q2)| q1 + q2).or_else(|| of(Period::H1)),
        };
        let figure = ItemFigure { value: sum.value - before?, ..sum.clone() };
        Some(RowFigure { figure, halves: Decimal::TWO })
    }

    /// An item of a period: of this filing, else as known on its day.
    fn figure(&self, year: i32, period: Period, item: Item) -> Option<Decimal> {
        if let Some(figure) = self.periods.get(&(year, period)).and_then(|row| row.get(&item)) {
            return figure.as_ref().map(|f| f.figure.value);
        }
        let known = self.known.item(year + self.shift, period, self.filing.filed_on, self.currency, item)?;
        decimal(known)
    }

    /// The count of shares on the cover stands for the one at the period's end, where that is not stated beside total assets.
    fn cover(&mut self, document_end: Option<Day>) {
        let Some((figure, day, facts)) = cover_count(&self.filing.facts) else { return };
        let Some(end) = document_end else { return };
        let Some(FiscalPart { year, part: Part::Row(period) }) = self.own_period(end) else { return };
        let Some(row) = self.periods.get_mut(&(year, period)) else { return };
        if !matches!(row.get(&Item::TotalAssets), Some(Some(_))) || row.contains_key(&Item::SharesOutstanding) {
            return;
        }
        if !COVER_DAYS.contains(&day.days_since(end)) {
            self.filed.warnings.push(Warning::CoverDay { day });
            return;
        }
        let count = ItemFigure { value: figure.value, tolerance: figure.half_unit(), facts, unsigned: Vec::new() };
        row.insert(Item::SharesOutstanding, Some(RowFigure { figure: count, halves: Decimal::ONE }));
    }

    /// The period that the filing's balance sheet ends.
    fn own_period(&self, end: Day) -> Option<FiscalPart> {
        let near = |p: &&FiscalPart| self.parts.ends.get(p) == Some(&end) && self.has_assets(**p);
        self.parts.facts.keys().find(near).copied()
    }

    fn has_assets(&self, part: FiscalPart) -> bool {
        let Part::Row(period) = part.part else { return false };
        self.periods.get(&(part.year, period)).is_some_and(|row| matches!(row.get(&Item::TotalAssets), Some(Some(_))))
    }

    /// What is new or differs becomes a row.
    fn rows(&mut self) {
        for ((year, period), row) in std::mem::take(&mut self.periods) {
            let row: Vec<(Item, RowFigure)> = row.into_iter().filter_map(|(item, figure)| Some((item, figure?))).collect();
            if !row.is_empty() {
                self.row(year, period, &row);
            }
        }
    }

    fn row(&mut self, year: i32, period: Period, row: &[(Item, RowFigure)]) {
        let label = year + self.shift;
        let known = self.known.at(label, period, self.filing.filed_on, self.currency);
        let all: Vec<&ItemFigure> = row.iter().map(|(_, f)| &f.figure).collect();
        let telling = |(item, _): &(Item, RowFigure)| matches!(item, Item::Revenue | Item::NetIncome | Item::TotalAssets);
        if known.is_none() && !row.iter().any(telling) {
            return self.raise_all(&all, Outcome::Stub);
        }
        self.raise_all(&all, Outcome::Unchanged);
        let before = |item: Item| decimal(known.as_ref()?.items.get(item)?);
        let differs = |(item, new): &&(Item, RowFigure)| {
            before(*item).is_none_or(|old| (new.figure.value - old).abs() > new.figure.tolerance * new.halves)
        };
        let changed: Vec<&(Item, RowFigure)> = row.iter().filter(differs).collect();
        let Some(end) = self.end(year, period).filter(|_| !changed.is_empty()) else { return };
        let end = known.as_ref().filter(|_| self.filing.rounded_days).map_or(end, |k| k.period_end);
        for (item, new) in &changed {
            self.raise_all(&[&new.figure], Outcome::Used);
            self.filed.warnings.extend(new.figure.unsigned.iter().map(|fact| Warning::Negative { fact: *fact, item: *item }));
        }
        let statement = self.statement(label, period, end, &changed);
        self.known.add(statement.clone());
        self.filed.rows.push(statement);
    }

    /// The last day of a period as its facts state it.
    fn end(&self, year: i32, period: Period) -> Option<Day> {
        let of = |part| self.parts.ends.get(&FiscalPart { year, part }).copied();
        of(Part::Row(period)).or_else(|| match period {
            Period::Q2 | Period::H1 => of(Part::SixMonths),
            Period::Q3 => of(Part::NineMonths),
            _ => None,
        })
    }

    /// The row; what was filed on the same day of the same period is part of it.
    fn statement(&self, fiscal_year: i32, period: Period, period_end: Day, changed: &[&(Item, RowFigure)]) -> Statement {
        let filed_on = self.filing.filed_on;
        let same_day = self.known.filed_on(fiscal_year, period, filed_on).filter(|r| r.currency == self.currency);
        let (mut items, source) = match same_day {
            Some(row) => (row.items.clone(), row.source.clone()),
            None => (Items::default(), self.filing.source.clone()),
        };
        for (item, new) in changed {
            items.set(*item, float(new.figure.value));
        }
        let company_id = self.filer.company_id.clone();
        Statement { company_id, fiscal_year, period, period_end, filed_on, currency: self.currency, source, items }
    }
}

/// A figure of the dataset as the decimal that it is written as.
fn decimal(value: f64) -> Option<Decimal> {
    value.to_string().parse().ok()
}

/// The nearest number.
fn float(value: Decimal) -> Option<f64> {
    value.to_i64().filter(|whole| Decimal::from(*whole) == value && whole.unsigned_abs() < 1 << 53).map_or_else(
        || value.to_string().parse().ok(),
        #[allow(clippy::cast_precision_loss)] // below 2^53
        |whole| Some(whole as f64),
    )
}
