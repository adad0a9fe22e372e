//! Inline XBRL 1.1 (and 1.0): facts within a page that people read.

mod dates;
mod transform;

use crate::{
    xbrl::{FactsBuilder, FilingFile, OwnConcepts, RawFact, RawValue, Resources},
    xbrl_xml::is_nil,
    xml::{Piece, Xml, attribute},
};
use artemon_core::filings::{Concept, Outcome, number};
use quick_xml::events::BytesStart;
use rust_decimal::Decimal;
use std::{borrow::Cow, collections::HashMap, sync::Arc};
use transform::Transform;

const IX: [&str; 2] = ["http://www.xbrl.org/2013/inlineXBRL", "http://www.xbrl.org/2008/inlineXBRL"];
/// The longest text that is collected of a fact: numbers and what describes the document are short, chapters are not kept.
const LONGEST: usize = 4_000;

/// A fact, or a piece that continues one.
struct Open {
    /// How deep its element is.
    depth: usize,
    /// How many exclusions were open around it: their text is its own.
    exclusions: usize,
    text: String,
    /// The id of the piece that continues it.
    continued_at: Option<String>,
    of: Of,
}

enum Of {
    Fact(Box<Tagged>),
    /// A piece of this id.
    Continuation(String),
}

/// What is written at a fact's element.
struct Tagged {
    concept: Arc<Concept>,
    context: String,
    unit: Option<String>,
    decimals: Option<String>,
    precision: Option<String>,
    /// `Err` for one that is not known.
    transform: Option<Result<Transform, ()>>,
    scale: i32,
    is_negative: bool,
    is_nil: bool,
    is_other_target: bool,
    is_number: bool,
    at: u64,
}

/// The facts of a page.
///
/// # Errors
/// What keeps it from being read, without a full stop.
pub(crate) fn read(text: &str, own: &OwnConcepts) -> Result<FilingFile, String> {
    let mut page = Page { xml: Xml::page(text), resources: Resources::default(), builder: FactsBuilder::new(own), open: Vec::new() };
    let (facts, continuations) = page.pieces()?;
    let Page { resources, mut builder, .. } = page;
    for (fact, own_text, next) in facts {
        let stated = whole(own_text, next, &continuations);
        builder.add(raw(fact, &stated, &resources)?);
    }
    builder.end_in(text)
}

/// A fact, its own text and what continues it.
type Piecewise = (Tagged, String, Option<String>);
/// Texts by their ids, with what continues them.
type Continuations = HashMap<String, (String, Option<String>)>;

/// The text with all that continues it, in order.
fn whole(mut text: String, mut next: Option<String>, continuations: &Continuations) -> String {
    while let Some((more, after)) = next.and_then(|id| continuations.get(&id)) {
        text.push_str(more);
        next = after.clone().filter(|_| text.len() < LONGEST && !more.is_empty());
    }
    text
}

fn raw(fact: Tagged, text: &str, resources: &Resources) -> Result<RawFact, String> {
    let context = resources.context(&fact.context)?;
    let (value, unread) = value(&fact, text);
    let refused = if unread { Some(Outcome::Transformation) } else { fact.is_other_target.then_some(Outcome::Target) };
    Ok(RawFact {
        unit: resources.unit(fact.unit.as_deref()),
        entity: Some(context.entity),
        span: context.span,
        dimensioned: context.dimensioned,
        concept: fact.concept,
        decimals: fact.decimals,
        precision: fact.precision,
        value,
        refused,
        at: fact.at,
    })
}

/// The value of a fact, and whether its format is unknown or cannot read the text: text → format → × 10^scale → sign.
fn value(fact: &Tagged, text: &str) -> (RawValue, bool) {
    if fact.is_nil {
        return (RawValue::Nil, false);
    }
    let transformed = match fact.transform {
        None => Some(text.trim().to_owned()),
        Some(Ok(transform)) => transform.apply(text),
        Some(Err(())) => None,
    };
    let Some(transformed) = transformed else { return (RawValue::Text(String::new()), true) };
    let scaled = || scaled(number(&transformed)?, fact.scale).map(|v| if fact.is_negative { -v } else { v });
    let number = if fact.is_number { scaled() } else { None };
    (number.map_or_else(|| RawValue::Text(transformed.clone()), RawValue::Number), false)
}

/// × 10^scale, exactly; `None` beyond what a figure may be.
fn scaled(value: Decimal, scale: i32) -> Option<Decimal> {
    let power = 10_i64.checked_pow(scale.unsigned_abs()).map(Decimal::from)?;
    let value = if scale < 0 { value.checked_div(power) } else { value.checked_mul(power) };
    value.and_then(|v| number(&v.to_string()))
}

struct Page<'i, 'o> {
    xml: Xml<'i>,
    resources: Resources,
    builder: FactsBuilder<'o>,
    open: Vec<Open>,
}

impl Page<'_, '_> {
    /// All facts with their own text, and what continues them.
    fn pieces(&mut self) -> Result<(Vec<Piecewise>, Continuations), String> {
        let (mut facts, mut continuations) = (Vec::new(), Continuations::new());
        let (mut depth, mut exclusions, mut has_header) = (0, Vec::new(), false);
        while let Some(piece) = self.xml.next()? {
            match piece {
                Piece::Open(element) => {
                    if self.resources.take(&mut self.xml, &element)? {
                        continue;
                    }
                    depth += 1;
                    if IX.contains(&self.xml.namespace(element.name(), false)) {
                        match element.local_name().as_ref() {
                            "header" => has_header = true,
                            "exclude" => exclusions.push(depth),
                            name => self.begin(name, &element, depth, exclusions.len()),
                        }
                    }
                }
                Piece::Text(text) => {
                    for open in self.open.iter_mut().filter(|o| o.exclusions == exclusions.len() && o.text.len() < LONGEST) {
                        open.text.push_str(text.get(..LONGEST).unwrap_or(&text));
                    }
                }
                Piece::Close => {
                    exclusions.pop_if(|at| *at == depth);
                    match self.open.pop_if(|o| o.depth == depth) {
                        Some(Open { of: Of::Fact(fact), text, continued_at, .. }) => facts.push((*fact, text, continued_at)),
                        Some(Open { of: Of::Continuation(id), text, continued_at, .. }) => {
                            continuations.insert(id, (text, continued_at));
                        }
                        None => {}
                    }
                    depth -= 1;
                }
            }
        }
        if has_header { Ok((facts, continuations)) } else { Err("no Inline XBRL header is in this page, so it states no facts".to_owned()) }
    }

    fn begin(&mut self, name: &str, element: &BytesStart<'_>, depth: usize, exclusions: usize) {
        let text = |name| attribute(element, name).map(Cow::into_owned);
        let of = match name {
            "nonFraction" | "nonNumeric" | "fraction" => self.tagged(name == "nonFraction", element).map(|fact| Of::Fact(Box::new(fact))),
            "continuation" => text("id").map(Of::Continuation),
            _ => None,
        };
        if let Some(of) = of {
            self.open.push(Open { depth, exclusions, text: String::new(), continued_at: text("continuedAt"), of });
        }
    }

    fn tagged(&mut self, is_number: bool, element: &BytesStart<'_>) -> Option<Tagged> {
        let text = |name| attribute(element, name).map(Cow::into_owned);
        let (name, context) = (text("name")?, text("contextRef")?);
        let (namespace, local) = self.xml.qualified(&name);
        let concept = self.builder.concept(namespace, local);
        let transform = text("format").map(|format| {
            let (registry, name) = self.xml.qualified(&format);
            Transform::named(registry, name).ok_or(())
        });
        Some(Tagged {
            concept,
            context,
            unit: text("unitRef"),
            decimals: text("decimals"),
            precision: text("precision"),
            transform,
            scale: text("scale").and_then(|s| s.trim().parse().ok()).unwrap_or(0),
            is_negative: text("sign").is_some_and(|s| s.trim() == "-"),
            is_nil: is_nil(&self.xml, element),
            is_other_target: text("target").is_some(),
            is_number,
            at: self.xml.position(),
        })
    }
}
