//! From which day on a new row makes anything another.

use super::snapshot::Snapshot;
use crate::domain::{Day, IndexMember, Listing, Officer, Record};

impl Snapshot {
    /// The first day as of which anything is another for a row that follows this snapshot; `None` when that may be any day. A row that
    /// is known already, and now has an end, changes nothing before that end.
    #[must_use]
    pub fn known_from(&self, record: &Record) -> Option<Day> {
        match record {
            Record::Officer(o) => self.officer_from(o).or(o.since),
            Record::IndexMember(m) => self.member_from(m).or(Some(m.from)),
            Record::Listing(l) => self.listing_from(l),
            other => other.known_from(),
        }
    }

    fn officer_from(&self, new: &Officer) -> Option<Day> {
        let company = &self.companies[self.find(&new.company_id)? as usize];
        let same = |o: &&Officer| Officer { until: new.until, ..(*o).clone() } == *new;
        let known = company.officers.iter().find(same)?;
        Some(first_end(known.until, new.until))
    }

    fn member_from(&self, new: &IndexMember) -> Option<Day> {
        let known = self.shared.indexes.get(&new.index_id)?.end_of(&new.company_id, new.from)?;
        Some(first_end(known, new.to))
    }

    fn listing_from(&self, new: &Listing) -> Option<Day> {
        let company = &self.companies[self.find(&new.company_id)? as usize];
        let as_new = |l: &Listing| Listing { delisted_on: new.delisted_on, delisting_return: new.delisting_return, ..l.clone() };
        let known = company.listing.iter().chain(&company.other_listings).find(|l| as_new(l) == *new)?;
        // What a share brought on leaving counts from that day on.
        Some(first_end(known.delisted_on, new.delisted_on))
    }
}

/// The earlier of two ends of which either may not have come; never when neither has.
fn first_end(before: Option<Day>, after: Option<Day>) -> Day {
    before.into_iter().chain(after).min().unwrap_or(Day::MAX)
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::panel::PanelBuilder;

    fn day(text: &str) -> Day {
        text.parse().unwrap()
    }

    fn officer(until: Option<&str>) -> Officer {
        Officer {
            company_id: "C".into(),
            name: "Name".to_owned(),
            role: "chief_executive".to_owned(),
            since: Some(day("2010-01-01")),
            until: until.map(day),
            birth_year: None,
        }
    }

    fn listing(delisted_on: Option<&str>, symbol: &str) -> Listing {
        Listing {
            symbol: symbol.into(),
            company_id: "C".into(),
            mic: String::new(),
            isin: String::new(),
            currency: "XFA".parse().unwrap(),
            shares_per_unit: 1.0,
            primary: true,
            listed_on: None,
            delisted_on: delisted_on.map(day),
            delisting_return: delisted_on.map(|_| -1.0),
        }
    }

    /// Whoever leaves an office, or an exchange, was there until then; whoever was not known in it may have been there for long.
    #[test]
    fn an_end_changes_nothing_before_it() {
        let mut builder = PanelBuilder::default();
        builder.push(Record::Company(crate::domain::Company {
            id: "C".into(),
            name: "Company".to_owned(),
            country: "XA".to_owned(),
            sector: String::new(),
            industry: String::new(),
            currency: "XFA".parse().unwrap(),
            fiscal_year_end_month: Some(12),
            kind: crate::domain::Kind::Operating,
            description: String::new(),
            employees: None,
            founded: None,
            lei: String::new(),
        }));
        builder.push(Record::Listing(listing(None, "SYM")));
        builder.push(Record::Officer(officer(None)));
        let snapshot = builder.build();
        let from = |record| snapshot.known_from(&record);
        assert_eq!(from(Record::Officer(officer(Some("2024-06-28")))), Some(day("2024-06-28")));
        assert_eq!(from(Record::Officer(officer(None))), Some(Day::MAX), "it is known");
        let other = Officer { name: "Other".to_owned(), ..officer(Some("2024-06-28")) };
        assert_eq!(from(Record::Officer(other)), Some(day("2010-01-01")));
        assert_eq!(from(Record::Listing(listing(Some("2024-06-28"), "SYM"))), Some(day("2024-06-28")));
        assert_eq!(from(Record::Listing(listing(None, "NEW"))), None, "another symbol");
    }
}
