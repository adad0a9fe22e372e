//! Contexts and units, as instances and pages of Inline XBRL hold them alike.

use super::{
    entity,
    period::{duration, last_day},
    units::{Measure, unit_of},
};
use crate::xml::{Piece, Xml, attribute};
use artemon_core::filings::{FactUnit, Span};
use quick_xml::events::BytesStart;
use std::{collections::HashMap, sync::Arc};

/// The namespace of instances.
pub(crate) const XBRLI: &str = "http://www.xbrl.org/2003/instance";

/// Whose and for when a fact is.
#[derive(Clone, Debug)]
pub(crate) struct Context {
    pub(crate) entity: Arc<str>,
    pub(crate) span: Span,
    pub(crate) dimensioned: bool,
}

/// Contexts and units by their ids.
#[derive(Debug, Default)]
pub(crate) struct Resources {
    pub(crate) contexts: HashMap<String, Context>,
    pub(crate) units: HashMap<String, FactUnit>,
}

impl Resources {
    /// Takes an element that has just been opened, if it is a context or a unit, to its end.
    ///
    /// # Errors
    /// XML that is wrong; a context without a period that can be read.
    pub(crate) fn take(&mut self, xml: &mut Xml<'_>, element: &BytesStart<'_>) -> Result<bool, String> {
        if xml.namespace(element.name(), false) != XBRLI {
            return Ok(false);
        }
        let id = attribute(element, "id").unwrap_or_default().into_owned();
        match element.local_name().as_ref() {
            "context" => {
                let context = context(xml, &id)?;
                self.contexts.insert(id, context);
            }
            "unit" => {
                let unit = unit(xml)?;
                self.units.insert(id, unit);
            }
            _ => return Ok(false),
        }
        Ok(true)
    }

    /// The unit of a fact; `Other` for one that is nowhere.
    pub(crate) fn unit(&self, id: Option<&str>) -> Option<FactUnit> {
        id.map(|id| self.units.get(id).copied().unwrap_or(FactUnit::Other))
    }

    /// The context of a fact.
    ///
    /// # Errors
    /// None of this id.
    pub(crate) fn context(&self, id: &str) -> Result<Context, String> {
        self.contexts.get(id).cloned().ok_or_else(|| format!("a fact refers to the context \"{id}\", which is not in the file"))
    }
}

fn context(xml: &mut Xml<'_>, id: &str) -> Result<Context, String> {
    let (mut scheme, mut dimensioned, mut depth) = (String::new(), false, 1);
    let mut texts: HashMap<String, String> = HashMap::new();
    let mut open: Vec<String> = Vec::new();
    while depth > 0 {
        match xml.next()?.ok_or("it ends within a context")? {
            Piece::Open(element) => {
                depth += 1;
                let within = open.last().is_some_and(|name| name == "segment" || name == "scenario");
                dimensioned |= within;
                let name = element.local_name().as_ref().to_owned();
                if name == "identifier" {
                    scheme = attribute(&element, "scheme").unwrap_or_default().into_owned();
                }
                if name == "forever" {
                    texts.insert(name.clone(), String::new());
                }
                open.push(name);
            }
            Piece::Text(text) => {
                if let Some(name) = open.last() {
                    dimensioned |= matches!(name.as_str(), "segment" | "scenario") && !text.trim().is_empty();
                    texts.entry(name.clone()).or_default().push_str(&text);
                }
            }
            Piece::Close => {
                depth -= 1;
                open.pop();
            }
        }
    }
    let text = |name: &str| texts.get(name).map(String::as_str);
    let span = match (text("instant"), text("startDate"), text("endDate"), text("forever")) {
        (Some(day), ..) => last_day(day).map(Span::Instant),
        (None, Some(start), Some(end), _) => duration(start, end),
        (None, _, _, Some(_)) => Some(Span::Forever),
        _ => None,
    };
    let span = span.ok_or_else(|| format!("the context \"{id}\" has no period that can be read"))?;
    Ok(Context { entity: entity(&scheme, text("identifier").unwrap_or_default()), span, dimensioned })
}

fn unit(xml: &mut Xml<'_>) -> Result<FactUnit, String> {
    let (mut above, mut below, mut depth) = (Vec::new(), Vec::new(), 1);
    let (mut is_measure, mut is_below, mut text) = (false, false, String::new());
    while depth > 0 {
        match xml.next()?.ok_or("it ends within a unit")? {
            Piece::Open(element) => {
                depth += 1;
                match element.local_name().as_ref() {
                    "measure" => (is_measure, text) = (true, String::new()),
                    "unitDenominator" => is_below = true,
                    _ => {}
                }
            }
            Piece::Text(part) if is_measure => text.push_str(&part),
            Piece::Text(_) => {}
            Piece::Close => {
                depth -= 1;
                if std::mem::take(&mut is_measure) {
                    let (namespace, name) = xml.qualified(&text);
                    let measure = Measure::named(namespace, name);
                    if is_below { below.push(measure) } else { above.push(measure) }
                }
            }
        }
    }
    Ok(unit_of(&above, &below))
}
