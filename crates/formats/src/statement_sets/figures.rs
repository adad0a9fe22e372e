//! The figures of a set: `num`, by far its largest file.

use super::{Listed, Pending, REMEDY, submissions::packed_day};
use crate::{
    BadCell, ReadError,
    filers::CIK_SCHEME,
    filings::{Counts, OwnFact},
    reading::Take,
    set_files::SetFiles,
    tab_separated::{Row, TabSeparated},
    xbrl::OwnConcepts,
};
use artemon_core::filings::{Concept, CoverFact, Exactness, Fact, FactUnit, FactValue, Figure, Outcome, Role, Span, UnitKind, number};
use rustc_hash::FxHashMap;
use std::{collections::HashMap, sync::Arc};

/// The file.
pub(super) const FILE: &str = "num.txt";
/// Lines between two reports of progress.
const TICK: u64 = 1 << 16;
/// Concepts of filers' own that a report lists.
const MOST_OWN: usize = 1_000;

/// Reads the figures of a set's filings.
pub(super) struct Figures<'o> {
    own: &'o OwnConcepts,
    filings: Vec<Listed>,
    by_accession: FxHashMap<String, usize>,
    /// Concepts by tag and version as written.
    places: FxHashMap<String, usize>,
    concepts: Vec<Arc<Concept>>,
    /// The tag and version that are looked for.
    key: String,
    /// The place of the tag and version that were looked for last.
    last: Option<usize>,
    spans: FxHashMap<(u32, u32), Option<Span>>,
    /// What the days and quarters of the row before come to, as written.
    last_span: (String, String, Option<Span>),
    /// Concepts of filers' own that nobody mapped, by namespace and name.
    unmapped: FxHashMap<(String, String), usize>,
    own_facts: Vec<OwnFact>,
    tally: Counts,
}

/// The filing of the rows that are read.
#[derive(Default)]
struct Current {
    accession: String,
    at: Option<usize>,
}

/// Where the columns stand.
struct Columns {
    accession: Option<usize>,
    tag: Option<usize>,
    version: Option<usize>,
    day: Option<usize>,
    quarters: Option<usize>,
    unit: Option<usize>,
    segments: Option<usize>,
    coregistrant: Option<usize>,
    value: Option<usize>,
}

impl<'o> Figures<'o> {
    pub(super) fn new(filings: HashMap<String, Listed>, own: &'o OwnConcepts) -> Figures<'o> {
        let (accessions, filings): (Vec<String>, Vec<Listed>) = filings.into_iter().unzip();
        Figures {
            own,
            filings,
            by_accession: accessions.into_iter().enumerate().map(|(at, accession)| (accession, at)).collect(),
            places: FxHashMap::default(),
            concepts: Vec::new(),
            key: String::new(),
            last: None,
            spans: FxHashMap::default(),
            last_span: (String::new(), String::new(), None),
            unmapped: FxHashMap::default(),
            own_facts: Vec::new(),
            tally: Counts::default(),
        }
    }

    /// The filings with what of their figures may be used, and what became of the others.
    ///
    /// # Errors
    /// A file that cannot be read; a reading that ends.
    pub(super) fn read(mut self, set: &mut SetFiles, take: &mut Take<'_>) -> Result<(Vec<Pending>, Counts), ReadError> {
        let (file, name) = (set.path_of(FILE), set.name.clone());
        let mut rows = TabSeparated::open(set.ahead(FILE)?, &file)?;
        rows.need(&["adsh", "tag", "version", "ddate", "qtrs", "uom", "value"])?;
        let names = ["adsh", "tag", "version", "ddate", "qtrs", "uom", "segments", "coreg", "value"];
        let [accession, tag, version, day, quarters, unit, segments, coregistrant, value] = rows.columns(names);
        let columns = Columns { accession, tag, version, day, quarters, unit, segments, coregistrant, value };
        let mut current = Current::default();
        while let Some(row) = rows.next()? {
            if row.line.is_multiple_of(TICK) {
                take.tell()?;
            }
            if let Err(cell) = self.row(&row, &columns, &mut current, &name) {
                take.bad(BadCell { file: file.clone(), ..*cell });
            }
        }
        take.report.own_concepts.append(&mut self.own_facts);
        let taken = self.filings.into_iter().filter_map(|f| if let Listed::Taken(pending) = f { Some(pending) } else { None });
        Ok((taken.collect(), self.tally))
    }

    fn row(&mut self, row: &Row<'_>, columns: &Columns, current: &mut Current, file: &str) -> Result<(), Box<BadCell>> {
        let bad = |column: &str, value: &str, expected: &str| Box::new(BadCell::at("", row.line, column, value, expected, REMEDY));
        let accession = row.cell(columns.accession);
        if current.at.is_none() || accession != current.accession {
            accession.clone_into(&mut current.accession);
            current.at = self.by_accession.get(accession).copied();
        }
        let at = current.at.ok_or_else(|| bad("adsh", accession, "a filing that the set lists"))?;
        if matches!(self.filings[at], Listed::LeftOut) {
            return Ok(());
        }
        let (day, quarters, written) = (row.cell(columns.day), row.cell(columns.quarters), row.cell(columns.value).trim());
        let span = self.span(day, quarters);
        let span = span.ok_or_else(|| bad("ddate", &format!("{day}, qtrs {quarters}"), "a day as YYYYMMDD and a number of quarters"))?;
        let no_number = || bad("value", written, "a number up to a quintillion (10¹⁸)");
        let place = self.place(row, columns, at);
        let concept = &self.concepts[place];
        let outcome = match &self.filings[at] {
            Listed::Refused(outcome) => Some(*outcome),
            _ => refused(concept, row.cell(columns.coregistrant), row.cell(columns.segments)),
        };
        if let Some(outcome) = outcome {
            // What is not used needs not be worked out; that it is a number is seen by its characters.
            if !is_decimal(written) && number(written).is_none() {
                return Err(no_number());
            }
            self.tally.count(concept, outcome, 1);
            if outcome == Outcome::Extension {
                self.note_own(place, at, file, span, written);
            }
            return Ok(());
        }
        let value = match written {
            "" => FactValue::Nil,
            text => FactValue::Number(Figure { value: number(text).ok_or_else(no_number)?, exactness: Exactness::Unstated }),
        };
        let unit = unit(concept, row.cell(columns.unit).trim());
        let fact = Fact { concept: concept.clone(), entity: None, span, unit, dimensioned: false, value, refused: None };
        if let Listed::Taken(pending) = &mut self.filings[at] {
            pending.filing.facts.push(fact);
        }
        Ok(())
    }

    /// The day or the quarters up to a month's end; of another number of quarters no fiscal period.
    fn span(&mut self, day: &str, quarters: &str) -> Option<Span> {
        if self.last_span.0 == day && self.last_span.1 == quarters {
            return self.last_span.2;
        }
        let span = self.new_span(day, quarters);
        day.clone_into(&mut self.last_span.0);
        quarters.clone_into(&mut self.last_span.1);
        self.last_span.2 = span;
        span
    }

    fn new_span(&mut self, day: &str, quarters: &str) -> Option<Span> {
        let key = (day.trim().parse().ok()?, quarters.trim().parse().ok()?);
        *self.spans.entry(key).or_insert_with(|| {
            let last = packed_day(day)?;
            let first = |quarters: u32| last.plus_days(1).plus_months(-3 * i32::try_from(quarters).unwrap_or(0));
            Some(match key.1 {
                0 => Span::Instant(last),
                n @ 1..=4 => Span::Duration(first(n), last),
                _ => Span::Forever,
            })
        })
    }

    fn place(&mut self, row: &Row<'_>, columns: &Columns, at: usize) -> usize {
        let (tag, version) = (row.cell(columns.tag), row.cell(columns.version));
        // Figures of a concept mostly stand one below the other.
        if let (Some(last), Some((before, of))) = (self.last, self.key.split_once('\t'))
            && before == tag
            && of == version
        {
            return last;
        }
        self.key.clear();
        self.key.extend([tag, "\t", version]);
        if let Some(place) = self.places.get(&self.key) {
            self.last = Some(*place);
            return *place;
        }
        let concept = match version.split('/').next() {
            Some("ifrs") => Concept::prefixed("ifrs-full", tag),
            Some(prefix @ ("us-gaap" | "dei" | "srt")) => Concept::prefixed(prefix, tag),
            _ => Concept::own(tag, self.own.get(&(self.namespace(at), tag.to_owned())).copied()),
        };
        self.concepts.push(Arc::new(concept));
        let place = self.concepts.len() - 1;
        self.places.insert(self.key.clone(), place);
        self.last = Some(place);
        place
    }

    /// What stands for the namespace of a filer's own concepts, whose versions are the numbers of its filings.
    fn namespace(&self, at: usize) -> String {
        if let Listed::Taken(pending) = &self.filings[at] { format!("{CIK_SCHEME}/{}", pending.cik) } else { String::new() }
    }

    fn note_own(&mut self, place: usize, at: usize, file: &str, span: Span, value: &str) {
        let (namespace, name) = (self.namespace(at), self.concepts[place].name.clone());
        let key = (namespace.clone(), name.clone());
        if let Some(known) = self.unmapped.get(&key) {
            self.own_facts[*known].count += 1;
        } else if self.own_facts.len() < MOST_OWN {
            self.unmapped.insert(key, self.own_facts.len());
            self.own_facts.push(OwnFact {
                file: file.to_owned(),
                namespace,
                name,
                value: value.to_owned(),
                span: span.to_string(),
                count: 1,
            });
        }
    }
}

/// What keeps a figure from being used whatever else the filing states.
fn refused(concept: &Concept, coregistrant: &str, segments: &str) -> Option<Outcome> {
    let is_of_filer = coregistrant.trim().is_empty() && segments.trim().is_empty();
    match concept.role {
        Role::Document(CoverFact::Shares) if is_of_filer => None,
        Role::Document(_) => Some(Outcome::Document),
        _ if !coregistrant.trim().is_empty() => Some(Outcome::Coregistrant),
        _ if !segments.trim().is_empty() => Some(Outcome::Dimension),
        Role::Own(None) => Some(Outcome::Extension),
        Role::Unmapped => Some(Outcome::Unmapped),
        Role::Mapped(_) | Role::Own(Some(_)) => None,
    }
}

/// Whether a text is a decimal of few figures, or empty.
fn is_decimal(text: &str) -> bool {
    let digits = text.strip_prefix('-').unwrap_or(text).as_bytes();
    digits.len() <= 18
        && digits.iter().all(|b| b.is_ascii_digit() || *b == b'.')
        && digits.iter().filter(|b| **b == b'.').count() < 2
        && (text.is_empty() || digits.iter().any(u8::is_ascii_digit))
}

/// The unit; a concept counted a share has the currency alone.
fn unit(concept: &Concept, name: &str) -> FactUnit {
    match FactUnit::named(name) {
        FactUnit::Money(currency) if concept.unit() == Some(UnitKind::PerShare) => FactUnit::PerShare(currency),
        unit => unit,
    }
}
