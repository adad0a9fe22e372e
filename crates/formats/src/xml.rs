//! XML as it may come from anywhere: namespaces resolved, nothing declared, nothing fetched, nothing nested without end.

use quick_xml::{
    NsReader, XmlVersion,
    escape::{resolve_html5_entity, resolve_predefined_entity},
    events::{BytesRef, BytesStart, Event, attributes::AttrError},
    name::{QName, ResolveResult},
};
use std::borrow::Cow;

/// Elements within each other at most.
const DEEPEST: usize = 256;

/// What is wrong with a document, without a full stop.
#[derive(Clone, Debug, PartialEq, Eq)]
pub(crate) enum XmlError {
    /// It ends before its elements do.
    CutOff(String),
    /// Anything else.
    Wrong(String),
}

impl From<XmlError> for String {
    fn from(e: XmlError) -> String {
        match e {
            XmlError::CutOff(said) | XmlError::Wrong(said) => said,
        }
    }
}

/// A document that is read from its start to its end.
pub(crate) struct Xml<'i> {
    text: &'i str,
    reader: NsReader<&'i [u8]>,
    depth: usize,
    /// Whether the entities of HTML may stand in it.
    html: bool,
}

/// What comes next.
pub(crate) enum Piece<'i> {
    Open(BytesStart<'i>),
    Text(Cow<'i, str>),
    Close,
}

impl<'i> Xml<'i> {
    pub(crate) fn new(text: &'i str) -> Xml<'i> {
        let mut reader = NsReader::from_str(text);
        reader.config_mut().expand_empty_elements = true;
        Xml { text, reader, depth: 0, html: false }
    }

    /// A page: `&nbsp;` and its like may stand in it.
    pub(crate) fn page(text: &'i str) -> Xml<'i> {
        Xml { html: true, ..Xml::new(text) }
    }

    /// The next piece; `None` at the end.
    ///
    /// # Errors
    /// What is wrong, with its line.
    pub(crate) fn next(&mut self) -> Result<Option<Piece<'i>>, XmlError> {
        loop {
            let event = self.reader.read_event().map_err(|e| self.syntax(&e))?;
            match event {
                Event::Start(element) => {
                    self.depth += 1;
                    if self.depth > DEEPEST {
                        let said = format!("line {}: its elements are nested deeper than {DEEPEST}, as in no real file", self.line());
                        return Err(XmlError::Wrong(said));
                    }
                    return Ok(Some(Piece::Open(element)));
                }
                Event::End(_) => {
                    self.depth -= 1;
                    return Ok(Some(Piece::Close));
                }
                Event::Text(text) => return Ok(Some(Piece::Text(text.into_inner()))),
                Event::CData(text) => return Ok(Some(Piece::Text(text.into_inner()))),
                Event::GeneralRef(entity) => return self.entity(&entity).map(|text| Some(Piece::Text(text))),
                Event::DocType(doctype) if doctype.contains(['[', '!']) => {
                    let said = "it declares entities or elements of its own (a DTD inside it), which is not allowed";
                    return Err(XmlError::Wrong(said.to_owned()));
                }
                Event::Decl(declaration) => self.declared(declaration.encoding())?,
                Event::Eof if self.depth > 0 => return Err(self.cut_off()),
                Event::Eof => return Ok(None),
                Event::Empty(_) | Event::Comment(_) | Event::PI(_) | Event::DocType(_) => {}
            }
        }
    }

    fn entity(&self, entity: &BytesRef<'_>) -> Result<Cow<'i, str>, XmlError> {
        let name: &str = entity;
        if let Some(c) = entity.resolve_char_ref().map_err(|e| self.syntax(&e))? {
            return Ok(Cow::Owned(c.to_string()));
        }
        let known = resolve_predefined_entity(name).or_else(|| resolve_html5_entity(name).filter(|_| self.html));
        let said = || XmlError::Wrong(format!("line {}: the entity \"{name}\" is not defined", self.line()));
        known.map(Cow::Borrowed).ok_or_else(said)
    }

    /// The text was decoded by its first bytes; a document that says it is in something else is not believed to be readable.
    fn declared(&self, encoding: Option<Result<Cow<'_, str>, AttrError>>) -> Result<(), XmlError> {
        let name = match encoding {
            Some(Ok(name)) => name.to_ascii_uppercase(),
            _ => return Ok(()),
        };
        match name.as_str() {
            "UTF-8" | "US-ASCII" | "ASCII" | "UTF-16" | "UTF-16LE" | "UTF-16BE" => Ok(()),
            // What is plain ASCII reads the same in all of them.
            _ if self.text.is_ascii() => Ok(()),
            _ => Err(XmlError::Wrong(format!("its encoding is {name}; save it in UTF-8 or UTF-16"))),
        }
    }

    /// The namespace of a qualified name that stands in the innermost open element; "" where it has none.
    pub(crate) fn namespace(&self, name: QName<'_>, is_attribute: bool) -> &str {
        let resolver = self.reader.resolver();
        let resolved = if is_attribute { resolver.resolve_attribute(name).0 } else { resolver.resolve_element(name).0 };
        match resolved {
            ResolveResult::Bound(namespace) => namespace.into_inner(),
            _ => "",
        }
    }

    /// Namespace and local name of a name in a value, such as `iso4217:ZOC`.
    pub(crate) fn qualified<'v>(&self, value: &'v str) -> (&str, &'v str) {
        let value = value.trim();
        let local = value.split_once(':').map_or(value, |(_, local)| local);
        (self.namespace(QName(value), false), local)
    }

    /// The byte up to which the text is read.
    pub(crate) fn position(&self) -> u64 {
        self.reader.buffer_position()
    }

    fn line(&self) -> usize {
        let at = usize::try_from(self.position()).unwrap_or(0).min(self.text.len());
        self.text.as_bytes()[..at].iter().filter(|b| **b == b'\n').count() + 1
    }

    fn cut_off(&self) -> XmlError {
        XmlError::CutOff(format!("line {}: the XML ends in the middle of an element; bring the whole file", self.line()))
    }

    fn syntax(&self, e: &quick_xml::Error) -> XmlError {
        match e {
            quick_xml::Error::Syntax(_) => self.cut_off(),
            _ => XmlError::Wrong(format!("line {}: {}", self.line(), e.to_string().trim_end_matches('.'))),
        }
    }
}

/// Namespace and name of the outermost element; `None` where there is none.
pub(crate) fn outermost(text: &str) -> Option<(String, String)> {
    let mut xml = Xml::page(text);
    loop {
        match xml.next().ok()?? {
            Piece::Open(root) => return Some((xml.namespace(root.name(), false).to_owned(), root.local_name().as_ref().to_owned())),
            Piece::Text(text) if text.trim().is_empty() => {}
            _ => return None,
        }
    }
}

/// An attribute without a namespace.
pub(crate) fn attribute<'e>(element: &'e BytesStart<'_>, name: &str) -> Option<Cow<'e, str>> {
    element.try_get_attribute(name).ok().flatten()?.normalized_value(XmlVersion::Implicit1_0).ok()
}

/// An element with what is in it.
#[derive(Clone, Debug, Default, PartialEq, Eq)]
pub(crate) struct Node {
    /// Its name without a prefix.
    pub(crate) name: String,
    /// Its attribute "id", where it has one.
    pub(crate) id: String,
    pub(crate) text: String,
    pub(crate) within: Vec<Node>,
}

/// A whole document as elements within elements.
///
/// # Errors
/// What is wrong, without a full stop.
pub(crate) fn tree(text: &str) -> Result<Node, String> {
    let mut xml = Xml::new(text);
    let mut open = vec![Node::default()];
    while let Some(piece) = xml.next()? {
        match piece {
            Piece::Open(element) => open.push(Node {
                name: element.local_name().as_ref().to_owned(),
                id: attribute(&element, "id").map(Cow::into_owned).unwrap_or_default(),
                ..Node::default()
            }),
            Piece::Text(text) => {
                if let Some(around) = open.last_mut() {
                    around.text.push_str(&text);
                }
            }
            Piece::Close => {
                let done = open.pop().unwrap_or_default();
                if let Some(around) = open.last_mut() {
                    around.within.push(done);
                }
            }
        }
    }
    open.pop().and_then(|all| all.within.into_iter().next()).ok_or_else(|| "it has no elements".to_owned())
}

impl Node {
    /// The elements of a name directly within.
    pub(crate) fn children<'n>(&'n self, name: &'n str) -> impl Iterator<Item = &'n Node> {
        self.within.iter().filter(move |n| n.name == name)
    }

    /// The first element of a name directly within.
    pub(crate) fn child(&self, name: &str) -> Option<&Node> {
        self.within.iter().find(|n| n.name == name)
    }

    /// The first element of a name anywhere within.
    pub(crate) fn find(&self, name: &str) -> Option<&Node> {
        self.child(name).or_else(|| self.within.iter().find_map(|n| n.find(name)))
    }

    /// The trimmed text of the first element of a name anywhere within; empty where there is none.
    pub(crate) fn text_of(&self, name: &str) -> &str {
        self.find(name).map_or("", |n| n.text.trim())
    }

    /// All elements of a name anywhere within, outermost first.
    pub(crate) fn all<'n>(&'n self, name: &str, out: &mut Vec<&'n Node>) {
        for n in &self.within {
            if n.name == name {
                out.push(n);
            } else {
                n.all(name, out);
            }
        }
    }
}
