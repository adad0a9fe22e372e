//! The SGML of versions 1: a header of lines, then elements, of which leaves may be closed or not.

use super::tree::Open;
use crate::statement::StatementError;
use crate::xml::Node;

pub(super) fn tree(text: &str) -> Result<Node, StatementError> {
    let start = text.find('<').ok_or_else(|| StatementError::Not("it has no elements".to_owned()))?;
    let mut open = Open::new();
    let mut rest = &text[start..];
    let mut done = false;
    while let Some(tag_at) = rest.find('<') {
        rest = &rest[tag_at + 1..];
        let end = rest.find('>').ok_or_else(|| StatementError::CutOff("its last tag does not end".to_owned()))?;
        let (tag, after) = (rest[..end].trim(), &rest[end + 1..]);
        let content = &after[..after.find('<').unwrap_or(after.len())];
        rest = after;
        if tag.starts_with(['?', '!']) {
            continue;
        }
        if let Some(tag) = tag.strip_prefix('/') {
            close(&mut open, &tag.to_ascii_uppercase());
            done |= tag.eq_ignore_ascii_case("OFX");
        } else {
            open.open(tag)?;
            let content = plain(content);
            // A text makes a leaf, which ends here whether it is closed or not.
            if !content.trim().is_empty() {
                open.text(&content);
                open.close();
            }
        }
    }
    if !done {
        return Err(StatementError::CutOff("it has no </OFX>".to_owned()));
    }
    open.whole()
}

/// Closes an element and what is open within it: leaves without a text. The end of a leaf that ended already says nothing.
fn close(open: &mut Open, tag: &str) {
    if !open.has(tag) {
        return;
    }
    while open.top() != tag {
        open.close_empty_leaf();
    }
    open.close();
}

fn plain(text: &str) -> String {
    text.replace("&lt;", "<").replace("&gt;", ">").replace("&nbsp;", " ").replace("&amp;", "&")
}

#[cfg(test)]
mod tests {
    use super::*;

    /// `MEMO` has no text and no end: what follows stands beside it, not in it.
    #[test]
    fn leaves_need_no_end_and_may_be_empty() {
        let root = tree("OFXHEADER:100\n<OFX><A><MEMO><B>x &amp; y</B><C>1\n<D></D><E>2</A></OFX>").unwrap();
        let a = root.find("A").unwrap();
        assert_eq!(a.within.iter().map(|n| n.name.as_str()).collect::<Vec<_>>(), ["MEMO", "B", "C", "D", "E"]);
        assert_eq!((a.text_of("B"), a.text_of("C"), a.text_of("MEMO")), ("x & y", "1", ""));
    }

    #[test]
    fn what_is_cut_off_or_endless_is_refused() {
        assert!(matches!(tree("<OFX><A><B>1"), Err(StatementError::CutOff(_))));
        assert!(matches!(tree("<OFX><A"), Err(StatementError::CutOff(_))));
        assert!(matches!(tree(&"<A>".repeat(100_000)), Err(StatementError::Not(_))));
        assert!(matches!(tree("no elements"), Err(StatementError::Not(_))));
    }
}
