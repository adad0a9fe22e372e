//! The JSON of a filer's facts: taxonomy → concept → unit → figures, each with the filing that states it.

use crate::{filers, filings::Counts, xbrl_json::json_problem};
use artemon_core::{
    domain::Day,
    filings::{Concept, CoverFact, Exactness, Fact, FactUnit, FactValue, Figure, Outcome, Role, Span, number},
};
use rust_decimal::Decimal;
use serde::{
    Deserialize, Deserializer,
    de::{DeserializeSeed, Error, IgnoredAny, MapAccess, SeqAccess, Visitor},
};
use std::{borrow::Cow, collections::HashMap, fmt, sync::Arc};

/// All facts of a filer, by the filings that state them.
#[derive(Debug, Default)]
pub(super) struct Facts<'j> {
    pub(super) cik: String,
    pub(super) name: String,
    pub(super) count: u64,
    /// What became of facts that are of no use whatever their filing states.
    pub(super) unused: Counts,
    pub(super) filings: HashMap<&'j str, FilingFacts<'j>>,
}

/// The facts of a filing.
#[derive(Debug)]
pub(super) struct FilingFacts<'j> {
    pub(super) accession: &'j str,
    pub(super) filed_on: Day,
    pub(super) form: &'j str,
    pub(super) fiscal_year: Option<i32>,
    pub(super) period: Option<&'j str>,
    pub(super) facts: Vec<Fact>,
}

#[derive(Deserialize)]
struct Entry<'j> {
    #[serde(borrow, default)]
    start: Option<&'j str>,
    end: &'j str,
    #[serde(default)]
    val: Amount,
    accn: &'j str,
    #[serde(default)]
    fy: Option<i32>,
    #[serde(borrow, default)]
    fp: Option<&'j str>,
    form: &'j str,
    filed: &'j str,
}

/// Of a figure that is not used only the form that states it.
#[derive(Deserialize)]
struct OfForm<'j> {
    form: &'j str,
}

/// A figure as JSON writes it: a number, exactly; `None` for null.
#[derive(Default)]
struct Amount(Option<Decimal>);

impl<'de> Deserialize<'de> for Amount {
    fn deserialize<D: Deserializer<'de>>(d: D) -> Result<Amount, D::Error> {
        struct Number;
        impl Visitor<'_> for Number {
            type Value = Amount;
            fn expecting(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
                f.write_str("a number")
            }
            fn visit_i64<E>(self, v: i64) -> Result<Amount, E> {
                Ok(Amount(Some(v.into())))
            }
            fn visit_u64<E>(self, v: u64) -> Result<Amount, E> {
                Ok(Amount(Some(v.into())))
            }
            fn visit_f64<E>(self, v: f64) -> Result<Amount, E> {
                Ok(Amount(number(&v.to_string())))
            }
            fn visit_str<E>(self, v: &str) -> Result<Amount, E> {
                Ok(Amount(number(v)))
            }
            fn visit_unit<E>(self) -> Result<Amount, E> {
                Ok(Amount(None))
            }
        }
        d.deserialize_any(Number)
    }
}

impl<'j> Facts<'j> {
    pub(super) fn parse(bytes: &'j [u8]) -> Result<Facts<'j>, String> {
        let mut facts = Facts::default();
        let mut json = serde_json::Deserializer::from_slice(bytes);
        Root(&mut facts).deserialize(&mut json).and_then(|()| json.end()).map_err(|e| json_problem(&e))?;
        if facts.cik.is_empty() { Err("it names no filer".to_owned()) } else { Ok(facts) }
    }

    fn add(&mut self, concept: &Arc<Concept>, unit: FactUnit, entry: &Entry<'j>) -> Result<(), String> {
        let day = |text: &str| iso_day(text).ok_or_else(|| format!("\"{text}\" is no date"));
        let end = day(entry.end)?;
        let span = match entry.start {
            Some(start) => Span::Duration(day(start)?, end),
            None => Span::Instant(end),
        };
        let value = entry.val.0.map_or(FactValue::Nil, |value| FactValue::Number(Figure { value, exactness: Exactness::Unstated }));
        let filed_on = day(entry.filed)?;
        let filing = self.filings.entry(entry.accn).or_insert_with(|| FilingFacts {
            accession: entry.accn,
            filed_on,
            form: entry.form,
            fiscal_year: None,
            period: None,
            facts: Vec::new(),
        });
        filing.fiscal_year = filing.fiscal_year.or(entry.fy);
        filing.period = filing.period.or(entry.fp);
        filing.facts.push(Fact { concept: concept.clone(), entity: None, span, unit, dimensioned: false, value, refused: None });
        self.count += 1;
        Ok(())
    }
}

/// A day as YYYY-MM-DD.
fn iso_day(text: &str) -> Option<Day> {
    let bytes = text.as_bytes();
    let number = |at: std::ops::Range<usize>| {
        let digits = &bytes[at];
        digits.iter().all(u8::is_ascii_digit).then(|| digits.iter().fold(0, |n, b| n * 10 + u32::from(b - b'0')))
    };
    if bytes.len() != 10 || bytes[4] != b'-' || bytes[7] != b'-' {
        return None;
    }
    Day::from_ymd(number(0..4)?.cast_signed(), number(5..7)?, number(8..10)?)
}

/// What keeps facts of a concept from being used, whatever they state.
fn unused(concept: &Concept) -> Option<Outcome> {
    match concept.role {
        Role::Unmapped => Some(Outcome::Unmapped),
        Role::Document(CoverFact::Shares) | Role::Mapped(_) | Role::Own(_) => None,
        Role::Document(_) => Some(Outcome::Document),
    }
}

/// An object whose values are read by what its keys are.
macro_rules! object {
    ($name:ident($($field:ident: $of:ty),*), |$this:ident, $key:ident, $map:ident| $body:block) => {
        struct $name<'f, 'j>(&'f mut Facts<'j> $(, $of)*);

        impl<'j> DeserializeSeed<'j> for $name<'_, 'j> {
            type Value = ();
            fn deserialize<D: Deserializer<'j>>(self, d: D) -> Result<(), D::Error> {
                d.deserialize_map(self)
            }
        }

        impl<'j> Visitor<'j> for $name<'_, 'j> {
            type Value = ();
            fn expecting(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
                f.write_str("an object")
            }
            fn visit_map<A: MapAccess<'j>>(self, mut $map: A) -> Result<(), A::Error> {
                let $this = self;
                while let Some($key) = $map.next_key::<Cow<'j, str>>()? $body
                Ok(())
            }
        }
    };
}

#[derive(Deserialize)]
#[serde(untagged)]
enum Cik {
    Number(u64),
    Text(String),
}

object!(Root(), |this, key, map| {
    match &*key {
        "cik" => {
            this.0.cik = match map.next_value::<Cik>()? {
                Cik::Number(n) => n.to_string(),
                Cik::Text(text) => text,
            }
        }
        "entityName" => this.0.name = map.next_value::<Option<String>>()?.unwrap_or_default(),
        "facts" => map.next_value_seed(Taxonomies(&mut *this.0))?,
        _ => {
            map.next_value::<IgnoredAny>()?;
        }
    }
});

object!(Taxonomies(), |this, key, map| {
    map.next_value_seed(OfTaxonomy(&mut *this.0, key.into_owned()))?;
});

object!(OfTaxonomy(taxonomy: String), |this, key, map| {
    let found = Arc::new(Concept::prefixed(&this.1, &key));
    map.next_value_seed(OfConcept(&mut *this.0, found))?;
});

object!(OfConcept(concept: Arc<Concept>), |this, key, map| {
    if key == "units" {
        map.next_value_seed(Units(&mut *this.0, this.1.clone()))?;
    } else {
        map.next_value::<IgnoredAny>()?;
    }
});

object!(Units(concept: Arc<Concept>), |this, key, map| {
    let unit = FactUnit::named(&key);
    map.next_value_seed(Entries(&mut *this.0, this.1.clone(), unit))?;
});

/// The figures of a concept in a unit.
struct Entries<'f, 'j>(&'f mut Facts<'j>, Arc<Concept>, FactUnit);

impl<'j> DeserializeSeed<'j> for Entries<'_, 'j> {
    type Value = ();
    fn deserialize<D: Deserializer<'j>>(self, d: D) -> Result<(), D::Error> {
        d.deserialize_seq(self)
    }
}

impl<'j> Visitor<'j> for Entries<'_, 'j> {
    type Value = ();
    fn expecting(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_str("a list of figures")
    }
    fn visit_seq<A: SeqAccess<'j>>(self, mut seq: A) -> Result<(), A::Error> {
        if let Some(outcome) = unused(&self.1) {
            while let Some(entry) = seq.next_element::<OfForm<'j>>()? {
                let outcome = if filers::counts(entry.form) { outcome } else { Outcome::Form };
                self.0.unused.count(&self.1, outcome, 1);
                self.0.count += 1;
            }
            return Ok(());
        }
        while let Some(entry) = seq.next_element::<Entry<'j>>()? {
            self.0.add(&self.1, self.2, &entry).map_err(A::Error::custom)?;
        }
        Ok(())
    }
}
