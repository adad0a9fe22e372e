//! What the bulk forms of a register of filers have in common.

use artemon_core::{
    domain::Day,
    filings::{Filer, Filing, FiscalCalendar, Known, commonest},
};

/// The scheme of the register's numbers.
pub const CIK_SCHEME: &str = "http://www.sec.gov/CIK";

/// Forms whose figures count, each amended by the same with /A.
const FORMS: [&str; 8] = ["10-K", "10-K405", "10-KT", "10-Q", "10-QT", "20-F", "40-F", "6-K"];

/// Whether a form's figures count: those of current reports, registrations and proxies are rounded, partial or pro forma.
pub(crate) fn counts(form: &str) -> bool {
    FORMS.contains(&form.strip_suffix("/A").unwrap_or(form))
}

/// A number of the register in ten digits; "CIK" and zeros in front are allowed.
#[must_use]
pub fn register_number(text: &str) -> Option<String> {
    let digits = text.trim().trim_start_matches(['C', 'I', 'K', 'c', 'i', 'k']);
    let is_number = (1..=10).contains(&digits.len()) && digits.bytes().all(|b| b.is_ascii_digit());
    is_number.then(|| format!("{digits:0>10}"))
}

/// The filer with its calendar, and with the one shift of its labels for all its filings: what is known by the day of the last one
/// decides, else the commonest of `stated`, the labels that filings give to their ends.
pub(crate) fn settled(
    filer: Filer,
    calendar: FiscalCalendar,
    last: Option<Day>,
    known: &Known,
    stated: impl Iterator<Item = (i32, Day)>,
) -> Filer {
    let of_known = last.and_then(|day| known.newest_year(day)).map(|(label, end)| label - calendar.year_of(end));
    let stated = stated.map(|(label, end)| label - calendar.year_of(end));
    let label_shift = of_known.or_else(|| commonest(stated)).unwrap_or(0);
    Filer { calendar: Some(calendar), label_shift: Some(label_shift), ..filer }
}

/// A filing that calls its fiscal year otherwise than the filer's others.
pub(crate) fn outvoted(file: &str, filing: &Filing, end: Option<Day>, filer: &Filer) -> Option<String> {
    let given = filing.document.fiscal_year?;
    let taken = filer.calendar?.year_of(end?) + filer.label_shift?;
    (given != taken)
        .then(|| format!("{file}: {} calls its fiscal year {given}; {taken} was taken, as in its other filings.", filing.source))
}

/// Takes out, in order, the filings that no set still to come can hold an earlier one than: those before the first day of the next.
pub(crate) fn due<T>(waiting: &mut Vec<T>, next: Option<Day>, of: impl Fn(&T) -> (Day, &str)) -> Vec<T> {
    waiting.sort_by(|a, b| of(a).cmp(&of(b)));
    let due = next.map_or(waiting.len(), |next| waiting.partition_point(|w| of(w).0 < next));
    waiting.drain(..due).collect()
}

#[cfg(test)]
mod tests {
    use super::{due, register_number};
    use artemon_core::domain::Day;

    #[test]
    fn numbers_have_ten_digits() {
        assert_eq!(register_number("CIK0009999101").as_deref(), Some("0009999101"));
        assert_eq!(register_number(" 9000000001 ").as_deref(), Some("9000000001"));
        for bad in ["", "CIK", "12a", "12345678901", "-5"] {
            assert_eq!(register_number(bad), None, "{bad}");
        }
    }

    /// Filings of one day go by their numbers; those of the next set's first day wait for it.
    #[test]
    fn filings_wait_for_sets_that_may_hold_earlier_ones() {
        fn of<'w>(w: &'w (Day, &'static str)) -> (Day, &'w str) {
            (w.0, w.1)
        }
        let day = |text: &str| text.parse::<Day>().unwrap();
        let mut waiting = vec![(day("2024-03-15"), "b"), (day("2024-03-15"), "a"), (day("2024-01-02"), "c"), (day("2024-04-01"), "d")];
        let names = |all: Vec<(Day, &'static str)>| all.into_iter().map(|w| w.1).collect::<Vec<_>>();
        assert_eq!(names(due(&mut waiting, Some(day("2024-03-15")), of)), ["c"]);
        assert_eq!(names(due(&mut waiting, Some(day("2024-04-01")), of)), ["a", "b"]);
        assert_eq!(names(due(&mut waiting, None, of)), ["d"]);
    }
}
