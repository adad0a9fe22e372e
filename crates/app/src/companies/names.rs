//! The index by which companies are found: made once a dataset, small enough to be looked through at every keystroke.

use artemon_core::{
    engine::Keep,
    panel::{AsOf, CompanyIndex},
};
use std::cmp::Reverse;

/// How far a find lies from what was typed: the less, the higher it ranks.
const EXACT: u32 = 0;
const SYMBOL_BEGINS: u32 = 10;
const NAME_BEGINS: u32 = 20;
const WORD_BEGINS: u32 = 30;
const PART: u32 = 40;
const NEARLY: u32 = 60;

/// The shortest text of which a mistake is forgiven; below that too much is near.
const SHORTEST_FORGIVEN: usize = 4;

/// What is looked through of one company, in small letters.
#[derive(Debug)]
struct Entry {
    company: CompanyIndex,
    /// Its primary symbol, its other and earlier ones, its ISINs.
    codes: Vec<String>,
    name: String,
    /// Where words of the name begin, but for the first.
    words: Vec<u16>,
    /// Which letters and digits occur in the name.
    letters: u64,
}

/// Every company by its names.
#[derive(Debug)]
pub(crate) struct Names(Vec<Entry>);

impl Keep for Names {
    fn bytes(&self) -> usize {
        self.0
            .iter()
            .map(|e| size_of::<Entry>() + e.name.len() + e.codes.iter().map(|c| c.len() + 24).sum::<usize>() + e.words.len() * 2)
            .sum()
    }
}

impl Names {
    /// Of all companies of a dataset, delisted ones too.
    pub(crate) fn of(as_of: AsOf<'_>) -> Names {
        let entry = |c: artemon_core::panel::CompanyAt<'_>| {
            let name = c.company().name.to_lowercase();
            let codes =
                c.listings().flat_map(|l| [l.symbol.to_lowercase(), l.isin.to_lowercase()]).filter(|code| !code.is_empty()).collect();
            Entry { company: c.index, codes, words: word_starts(&name), letters: letters(name.as_bytes()), name }
        };
        Names(as_of.companies().map(entry).collect())
    }

    /// The companies that a text names, the closest first; `rank` puts those equally close in order. Mistakes are forgiven
    /// only where the text as it stands does not name enough.
    pub(crate) fn find<K: Ord>(&self, text: &str, most: usize, rank: impl Fn(CompanyIndex) -> K) -> Vec<CompanyIndex> {
        let wanted = Wanted::of(text);
        let mut found = self.by(|e| closeness(e, &wanted));
        if found.len() < most && wanted.forgiving {
            found.extend(self.by(|e| if closeness(e, &wanted).is_none() { mistyped(e, &wanted) } else { None }));
        }
        // Of thousands that are equally far only some are shown: the rest need no order.
        let closest = most.saturating_mul(8).max(64);
        if found.len() > closest {
            found.select_nth_unstable_by_key(closest, |f| (f.0, f.1, &f.2.name));
            found.truncate(closest);
        }
        found.sort_by_cached_key(|f| (f.0, Reverse(rank(f.2.company)), f.2.name.clone()));
        found.into_iter().take(most).map(|f| f.2.company).collect()
    }

    /// The companies of which a text is a symbol, an ISIN or the name, in any case.
    pub(crate) fn exactly(&self, text: &str) -> Vec<CompanyIndex> {
        let text = text.trim().to_lowercase();
        let is_it = |e: &&Entry| !text.is_empty() && (e.codes.contains(&text) || e.name == text);
        self.0.iter().filter(is_it).map(|e| e.company).collect()
    }

    /// Those for which a distance can be told, with it and the length of their names.
    fn by(&self, distance: impl Fn(&Entry) -> Option<u32>) -> Vec<(u32, u16, &Entry)> {
        self.0.iter().filter_map(|e| distance(e).map(|far| (far, length(e), e))).collect()
    }
}

/// Where words begin, but for the first.
fn word_starts(name: &str) -> Vec<u16> {
    let begins = |at: usize, letter: char| at > 0 && letter.is_alphanumeric() && !name[..at].ends_with(char::is_alphanumeric);
    let starts = name.char_indices().filter(|(at, letter)| begins(*at, *letter));
    starts.filter_map(|(at, _)| u16::try_from(at).ok()).collect()
}

fn length(e: &Entry) -> u16 {
    u16::try_from(e.name.len()).unwrap_or(u16::MAX)
}

/// What is looked for.
struct Wanted {
    text: String,
    letters: u64,
    forgiving: bool,
}

impl Wanted {
    fn of(text: &str) -> Wanted {
        let text = text.trim().to_lowercase();
        Wanted { letters: letters(text.as_bytes()), forgiving: text.chars().count() >= SHORTEST_FORGIVEN, text }
    }
}

/// A bit for each letter and digit that occurs; letters beyond the Latin ones share one.
fn letters(text: &[u8]) -> u64 {
    text.iter().fold(0, |all, b| {
        all | match b {
            b'a'..=b'z' => 1 << (b - b'a'),
            b'0'..=b'9' => 1 << (26 + b - b'0'),
            b' '..=b'/' => 0,
            _ => 1u64 << 40,
        }
    })
}

fn closeness(e: &Entry, wanted: &Wanted) -> Option<u32> {
    let text = wanted.text.as_str();
    if text.is_empty() || e.codes.iter().any(|c| c == text) || e.name == text {
        return Some(EXACT);
    }
    if e.codes.iter().any(|c| c.starts_with(text)) {
        return Some(SYMBOL_BEGINS);
    }
    if wanted.letters & !e.letters == 0 {
        if e.name.starts_with(text) {
            return Some(NAME_BEGINS);
        }
        if e.words.iter().any(|at| e.name[usize::from(*at)..].starts_with(text)) {
            return Some(WORD_BEGINS);
        }
        if e.name.contains(text) {
            return Some(PART);
        }
    }
    None
}

/// How far a text with mistakes lies from the beginning of the name or of one of its words; none beyond one mistake in four
/// letters.
fn mistyped(e: &Entry, wanted: &Wanted) -> Option<u32> {
    let allowed = if wanted.text.len() >= 8 { 2 } else { 1 };
    // A mistake brings in one letter at most.
    if (wanted.letters & !e.letters).count_ones() > allowed {
        return None;
    }
    let begins = std::iter::once(0).chain(e.words.iter().map(|w| usize::from(*w)));
    begins.filter_map(|at| nearly_begins(&e.name[at..], wanted, allowed)).min().map(|mistakes| NEARLY + mistakes)
}

/// The mistakes (letters wrong, missing, too many or swapped) by which a name begins with a text, up to a number.
fn nearly_begins(name: &str, wanted: &Wanted, allowed: u32) -> Option<u32> {
    let (text, most) = (wanted.text.as_str(), allowed as usize);
    // The first letter is mostly right; if it is not, the second is.
    let mut starts = name.chars();
    let first = text.chars().next();
    if starts.next() != first && starts.next() != first && name.chars().next() != text.chars().nth(1) {
        return None;
    }
    // A letter that the other does not have at all is a mistake, both ways; letters of two bytes are looked at whole below.
    let letters_to = |end: usize| letters(&name.as_bytes()[..name.len().min(end)]);
    let missing = |of: u64, from: u64| (of & !from).count_ones() > allowed;
    if name.is_ascii() && (missing(wanted.letters, letters_to(text.len() + most)) || missing(letters_to(text.len() - most), wanted.letters))
    {
        return None;
    }
    let length = text.chars().count();
    let mistakes = |letters: usize| {
        let part: String = name.chars().take(letters).collect();
        strsim::osa_distance(&part, text)
    };
    let fewest = (length.saturating_sub(most)..=length + most).map(mistakes).min()?;
    (fewest <= most).then(|| u32::try_from(fewest).unwrap_or(u32::MAX))
}

#[cfg(test)]
mod tests {
    use super::*;

    fn entry(company: CompanyIndex, codes: &[&str], name: &str) -> Entry {
        let name = name.to_lowercase();
        let words = word_starts(&name);
        Entry { company, codes: codes.iter().map(|c| c.to_lowercase()).collect(), words, letters: letters(name.as_bytes()), name }
    }

    fn names() -> Names {
        Names(vec![
            entry(0, &["FER", "XA0000000013"], "Fernau Ferries"),
            entry(1, &["NOR", "OLD1", "XA0000000021"], "Northern Ore & Rail"),
            entry(2, &["FERX"], "Ferrous Works"),
            entry(3, &["OFE"], "Overland Ferry"),
            entry(4, &["ÅKER"], "Åkerö Mølle"),
        ])
    }

    fn find(text: &str) -> Vec<CompanyIndex> {
        names().find(text, 3, |company| company != 0)
    }

    /// Symbols before names, beginnings before words within, these before parts; the rank decides among equals.
    #[test]
    fn the_closest_come_first() {
        assert_eq!(find("fer"), [0, 2, 3], "a symbol, the beginning of a symbol, a word");
        assert_eq!(find("Ferr"), [2, 3, 0], "one name begins with it, words of two do: the listed one first");
        assert_eq!(find("erland"), [3]);
        assert_eq!(find("& rail"), [1]);
    }

    #[test]
    fn other_symbols_isins_and_capitals_find_too() {
        assert_eq!(find("old1"), [1]);
        assert_eq!(find(" xa0000000021 "), [1]);
        assert_eq!(find("xa00000000").len(), 2, "the beginning of an ISIN");
        assert_eq!(find("åkerö"), [4]);
    }

    /// A letter wrong, missing, too many or swapped is forgiven, two in a long text; not in a short one, where too much is near.
    #[test]
    fn mistakes_are_forgiven_where_nothing_else_is_found() {
        for text in ["overlnd", "ovverland", "overlamd", "ovreland", "voerland", "noverland"] {
            assert_eq!(find(text), [3], "{text}");
        }
        assert_eq!(find("northren oer"), [1], "two in a long text");
        assert!(find("onr").is_empty() && find("oxerlxnd wxrks").is_empty());
    }

    #[test]
    fn what_is_named_exactly_keeps_the_mistyped_out_only_when_it_is_enough() {
        // "Ferrous" begins with it, "Ferries" is one letter off: there is room for both.
        assert_eq!(find("ferro")[0], 2);
        assert!(find("ferro").contains(&0));
        assert_eq!(names().find("ferro", 1, |_| 0), [2]);
    }
}
