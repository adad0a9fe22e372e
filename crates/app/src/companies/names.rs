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
            let boundary = |(at, _): &(usize, char)| *at > 0 && !name[..*at].ends_with(char::is_alphanumeric);
            let words = name
                .char_indices()
                .filter(|(_, l)| l.is_alphanumeric())
                .filter(boundary)
                .filter_map(|(at, _)| u16::try_from(at).ok())
                .collect();
            let codes =
                c.listings().flat_map(|l| [l.symbol.to_lowercase(), l.isin.to_lowercase()]).filter(|code| !code.is_empty()).collect();
            Entry { company: c.index, codes, words, letters: letters(&name), name }
        };
        Names(as_of.companies().map(entry).collect())
    }

    /// The companies that a text names, the closest first; `rank` puts those equally close in order.
    pub(crate) fn find<K: Ord>(&self, text: &str, most: usize, rank: impl Fn(CompanyIndex) -> K) -> Vec<CompanyIndex> {
        let wanted = Wanted::of(text);
        let mut found: Vec<(u32, u16, &Entry)> = self.0.iter().filter_map(|e| closeness(e, &wanted).map(|n| (n, length(e), e))).collect();
        // Of thousands that are equally far only some are shown: the rest need no order.
        let closest = most.saturating_mul(8).max(64);
        if found.len() > closest {
            found.select_nth_unstable_by_key(closest, |f| (f.0, f.1, &f.2.name));
            found.truncate(closest);
        }
        found.sort_by_cached_key(|f| (f.0, Reverse(rank(f.2.company)), f.2.name.clone()));
        found.into_iter().take(most).map(|f| f.2.company).collect()
    }
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
        Wanted { letters: letters(&text), forgiving: text.chars().count() >= SHORTEST_FORGIVEN, text }
    }
}

/// A bit for each letter and digit that occurs; letters beyond the Latin ones share one.
fn letters(text: &str) -> u64 {
    text.bytes().fold(0, |all, b| {
        all | match b {
            b'a'..=b'z' => 1 << (b - b'a'),
            b'0'..=b'9' => 1 << (26 + b - b'0'),
            b' '..=b'/' => 0,
            _ => 1 << 40,
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
    // A mistake changes a letter or two at most.
    let far = (wanted.letters & !e.letters).count_ones() > 2;
    if !wanted.forgiving || far { None } else { mistyped(e, text).map(|mistakes| NEARLY + mistakes) }
}

/// How many mistakes lie between a text and the beginning of the name or of one of its words; none beyond one in four letters.
fn mistyped(e: &Entry, text: &str) -> Option<u32> {
    let allowed = if text.len() >= 8 { 2 } else { 1 };
    let begins = std::iter::once(0).chain(e.words.iter().map(|w| usize::from(*w)));
    begins.filter_map(|at| nearly_begins(&e.name[at..], text, allowed)).min()
}

/// The mistakes (letters wrong, missing, too many or swapped) by which a name begins with a text, up to a number.
fn nearly_begins(name: &str, text: &str, allowed: usize) -> Option<u32> {
    // The first letter is mostly right; if it is not, the second is.
    let mut starts = name.chars();
    let first = text.chars().next();
    if starts.next() != first && starts.next() != first && name.chars().next() != text.chars().nth(1) {
        return None;
    }
    let length = text.chars().count();
    let mistakes = |letters: usize| {
        let part: String = name.chars().take(letters).collect();
        strsim::osa_distance(&part, text)
    };
    let fewest = (length.saturating_sub(allowed)..=length + allowed).map(mistakes).min()?;
    (fewest <= allowed).then(|| u32::try_from(fewest).unwrap_or(u32::MAX))
}
