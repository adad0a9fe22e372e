//! XBRL 2.1 instances.

use crate::{
    xbrl::{FactsBuilder, FilingFile, OwnConcepts, RawFact, RawValue, Resources, XBRLI, is_numeric},
    xml::{Piece, Xml, attribute},
};
use artemon_core::filings::{Concept, Role};
use quick_xml::events::BytesStart;
use std::{borrow::Cow, sync::Arc};

/// The namespace of `xsi:nil`.
pub(crate) const XSI: &str = "http://www.w3.org/2001/XMLSchema-instance";

/// A fact before its context and unit are known: they may stand behind it.
struct Open {
    concept: Arc<Concept>,
    context: String,
    unit: Option<String>,
    decimals: Option<String>,
    precision: Option<String>,
    is_nil: bool,
    text: String,
    at: u64,
}

/// Whether this is the start of an instance.
pub(crate) fn is_instance(namespace: &str, name: &str) -> bool {
    namespace == XBRLI && name == "xbrl"
}

/// The facts of an instance.
///
/// # Errors
/// What keeps it from being read, without a full stop.
pub(crate) fn read(text: &str, own: &OwnConcepts) -> Result<FilingFile, String> {
    let mut xml = Xml::new(text);
    let (mut resources, mut builder, mut facts) = (Resources::default(), FactsBuilder::new(own), Vec::new());
    let (mut is_root, mut open): (bool, Option<(usize, Open)>) = (true, None);
    let mut depth = 0;
    while let Some(piece) = xml.next()? {
        match piece {
            Piece::Open(element) => {
                if is_root && !is_instance(xml.namespace(element.name(), false), element.local_name().as_ref()) {
                    return Err("its outermost element is not that of an XBRL instance".to_owned());
                }
                is_root = false;
                if open.is_none() && resources.take(&mut xml, &element)? {
                    continue;
                }
                depth += 1;
                if open.is_none()
                    && let Some(fact) = begun(&xml, &element, &mut builder)
                {
                    open = Some((depth, fact));
                }
            }
            Piece::Text(part) => {
                if let Some((_, fact)) = &mut open
                    && wants_text(fact)
                {
                    fact.text.push_str(&part);
                }
            }
            Piece::Close => {
                if open.as_ref().is_some_and(|(at, _)| *at == depth) {
                    facts.extend(open.take().map(|(_, fact)| fact));
                }
                depth -= 1;
            }
        }
    }
    for fact in facts {
        let context = resources.context(&fact.context)?;
        builder.add(RawFact {
            unit: resources.unit(fact.unit.as_deref()),
            entity: Some(context.entity),
            span: context.span,
            dimensioned: context.dimensioned,
            value: if fact.is_nil { RawValue::Nil } else { RawValue::Text(fact.text) },
            concept: fact.concept,
            decimals: fact.decimals,
            precision: fact.precision,
            refused: None,
            at: fact.at,
        });
    }
    builder.end_in(text)
}

/// A text that is neither a number nor about the document may be a whole chapter: it is not kept.
fn wants_text(fact: &Open) -> bool {
    fact.unit.is_some() || is_numeric(&fact.concept, None) || matches!(fact.concept.role, Role::Document(_)) || fact.text.is_empty()
}

fn begun(xml: &Xml<'_>, element: &BytesStart<'_>, builder: &mut FactsBuilder<'_>) -> Option<Open> {
    let context = attribute(element, "contextRef")?.into_owned();
    let text = |name| attribute(element, name).map(Cow::into_owned);
    Some(Open {
        concept: builder.concept(xml.namespace(element.name(), false), element.local_name().as_ref()),
        context,
        unit: text("unitRef"),
        decimals: text("decimals"),
        precision: text("precision"),
        is_nil: is_nil(xml, element),
        text: String::new(),
        at: xml.position(),
    })
}

/// Whether an element says that it has no value.
pub(crate) fn is_nil(xml: &Xml<'_>, element: &BytesStart<'_>) -> bool {
    element.attributes().flatten().any(|a| {
        a.key.local_name().as_ref() == "nil" && xml.namespace(a.key, true) == XSI && matches!(a.value.as_ref().trim(), "true" | "1")
    })
}

#[cfg(test)]
mod tests {
    use super::*;
    use artemon_core::filings::{FactValue, Span};

    fn wrapped(within: &str) -> String {
        format!(
            r#"<x:xbrl xmlns:x="{XBRLI}" xmlns:g="http://fasb.org/us-gaap/2024" xmlns:xsi="{XSI}" xmlns:i="http://www.xbrl.org/2003/iso4217">{within}
            <x:context id="c"><x:entity><x:identifier scheme="s">1</x:identifier></x:entity><x:period><x:instant>2024-12-31</x:instant></x:period></x:context>
            <x:unit id="u"><x:measure>i:ZOC</x:measure></x:unit></x:xbrl>"#
        )
    }

    /// Contexts may stand behind the facts, entities and character data within a value, a tuple around it.
    #[test]
    fn facts_are_read_wherever_they_stand() {
        let text = wrapped(
            r#"<g:Pair xmlns:g="http://own.example"><f:Assets xmlns:f="http://fasb.org/us-gaap/2024" contextRef="c" unitRef="u" decimals="-3">12<![CDATA[0]]>&#48;</f:Assets></g:Pair>
            <g:Goodwill contextRef="c" unitRef="u" xsi:nil="true"/>"#,
        );
        let file = read(&text, &OwnConcepts::new()).unwrap();
        let [assets, goodwill] = file.facts.as_slice() else { panic!("{file:?}") };
        assert_eq!(assets.concept.name, "us-gaap:Assets");
        assert!(matches!(assets.value, FactValue::Number(figure) if figure.value == 1200.into()), "{assets:?}");
        assert_eq!(assets.span, Span::Instant("2024-12-31".parse().unwrap()));
        assert_eq!(goodwill.value, FactValue::Nil);
    }

    #[test]
    fn what_is_no_instance_is_refused_with_the_reason() {
        let refused = |text: &str| read(text, &OwnConcepts::new()).unwrap_err();
        assert_eq!(refused("<a/>"), "its outermost element is not that of an XBRL instance");
        assert_eq!(refused(&wrapped("")), "it has no facts");
        assert!(refused(&wrapped(r#"<g:Assets contextRef="d">1</g:Assets>"#)).contains("context \"d\""));
        assert!(refused(&wrapped("")[..200]).contains("ends in the middle"));
    }
}
