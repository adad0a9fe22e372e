//! Dates that companies announce: results and meetings.

use crate::character::Character;
use artemon_core::domain::{Day, Event, EventKind, Period, Record};

/// Days from the yearly filing to the meeting of shareholders.
const TO_MEETING: i32 = 35;

pub(crate) fn announce(c: &Character, out: &mut Vec<Record>) {
    let event = |date, kind| Record::Event(Event { company_id: c.id.clone(), date, kind, confirmed: false, announced_on: None });
    let first_filings = out.iter().filter_map(|r| match r {
        Record::Statement(s) if !s.source.ends_with("corrected") => Some((s.filed_on, s.period)),
        _ => None,
    });
    let both = |(filed_on, period): (Day, Period)| {
        let meeting = (period == Period::FY).then(|| event(weekday(filed_on.plus_days(TO_MEETING)), EventKind::Meeting));
        std::iter::once(event(filed_on, EventKind::Earnings)).chain(meeting)
    };
    let events: Vec<Record> = first_filings.flat_map(both).collect();
    out.extend(events.into_iter().filter(|e| matches!(e, Record::Event(e) if c.trades_on(e.date))));
}

/// The first session from a day on.
pub(crate) fn weekday(day: Day) -> Day {
    (0..).map(|i| day.plus_days(i)).find(|d| artemon_sim::sessions::is_session(*d)).unwrap_or(day)
}
