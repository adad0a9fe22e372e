//! What of the whole course of the world is known by a day: rows of later days are left out, and ends that lie ahead are
//! left open.

use artemon_core::domain::{Day, Record};

/// Days ahead on which events are announced.
const ANNOUNCED: i32 = 45;

/// The row as it is known by the close of a day; `None` when nobody knows of it yet.
pub(crate) fn known_by(record: &Record, day: Day) -> Option<Record> {
    if public_on(record).is_some_and(|d| d > day) {
        return None;
    }
    let mut known = record.clone();
    let open = |end: &mut Option<Day>| {
        if end.is_some_and(|d| d > day) {
            *end = None;
        }
    };
    match &mut known {
        Record::Listing(x) => {
            open(&mut x.delisted_on);
            x.delisting_return = x.delisting_return.filter(|_| x.delisted_on.is_some());
        }
        Record::Officer(x) => open(&mut x.until),
        Record::IndexMember(x) => open(&mut x.to),
        Record::Event(x) => x.confirmed |= x.date <= day.plus_days(ANNOUNCED / 3),
        _ => {}
    }
    Some(known)
}

/// The days after which a row is known in another form than before: when it appears, and when its end does.
pub(crate) fn turns(record: &Record) -> impl Iterator<Item = Day> {
    let end = match record {
        Record::Listing(x) => x.delisted_on,
        Record::Officer(x) => x.until,
        Record::IndexMember(x) => x.to,
        Record::Event(x) => Some(x.date.plus_days(-ANNOUNCED / 3)),
        _ => None,
    };
    public_on(record).into_iter().chain(end)
}

/// When a row becomes public: as the dataset says, but for what is announced ahead. A company is known from its listing.
fn public_on(record: &Record) -> Option<Day> {
    match record {
        Record::Event(x) => Some(x.date.plus_days(-ANNOUNCED)),
        Record::Action(x) => x.declared_on.or(Some(x.ex_date)),
        Record::Listing(x) => x.listed_on,
        other => other.known_on(),
    }
}
