//! Codes of countries and currencies that are well formed but in no list: they may be a user's own, or mistyped.

use artemon_core::domain::{Currency, Record};
use std::collections::BTreeSet;

/// Those met in an import.
#[derive(Default)]
pub(crate) struct OddCodes {
    currencies: BTreeSet<Currency>,
    odd: BTreeSet<String>,
}

impl OddCodes {
    pub(crate) fn note(&mut self, record: &Record) {
        match record {
            Record::Company(c) => {
                self.currency(c.currency);
                if !c.country.is_empty() && c.country.parse::<iso_country::Country>().is_err() {
                    self.odd.insert(format!("{} is no country of ISO 3166-1", c.country));
                }
            }
            Record::Listing(l) => self.currency(l.currency),
            Record::Statement(s) => self.currency(s.currency),
            Record::InsiderTrade(t) => self.currency(t.currency),
            Record::Rate(r) => self.currency(r.currency),
            Record::Index(i) => self.currency(i.currency),
            Record::Fx(r) => {
                self.currency(r.base);
                self.currency(r.quote);
            }
            _ => {}
        }
    }

    fn currency(&mut self, currency: Currency) {
        if self.currencies.insert(currency) && iso_currency::Currency::from_code(currency.as_str()).is_none() {
            self.odd.insert(format!("{currency} is no currency of ISO 4217"));
        }
    }

    /// In words, for the report.
    pub(crate) fn in_words(self) -> Vec<String> {
        self.odd.into_iter().collect()
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use artemon_core::domain::{Day, FxRate};

    #[test]
    fn each_code_in_no_list_is_named_once() {
        let mut odd = OddCodes::default();
        let code = |c: &str| c.parse::<Currency>().unwrap();
        for _ in 0..2 {
            odd.note(&Record::Fx(FxRate { date: Day::MIN, base: code("ZOC"), quote: code("CHF"), rate: 1.5 }));
        }
        assert_eq!(odd.in_words(), ["ZOC is no currency of ISO 4217"]);
    }
}
