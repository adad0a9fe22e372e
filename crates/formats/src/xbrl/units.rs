//! In what facts are counted.

use artemon_core::filings::FactUnit;

const ISO4217: &str = "http://www.xbrl.org/2003/iso4217";
const XBRLI: &str = "http://www.xbrl.org/2003/instance";

/// One measure of a unit.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(crate) struct Measure {
    /// Money, shares or a plain number; `Other` for anything else.
    of: FactUnit,
}

impl Measure {
    /// A measure by its namespace and name.
    pub(crate) fn named(namespace: &str, name: &str) -> Measure {
        let of = match (namespace, name) {
            (ISO4217, code) => code.parse().map_or(FactUnit::Other, FactUnit::Money),
            (XBRLI, "shares") => FactUnit::Shares,
            (XBRLI, "pure") => FactUnit::Pure,
            _ => FactUnit::Other,
        };
        Measure { of }
    }
}

/// The unit of measures multiplied, divided by others.
pub(crate) fn unit_of(multiplied: &[Measure], divided_by: &[Measure]) -> FactUnit {
    match (multiplied, divided_by) {
        ([one], []) => one.of,
        ([Measure { of: FactUnit::Money(currency) }], [Measure { of: FactUnit::Shares }]) => FactUnit::PerShare(*currency),
        _ => FactUnit::Other,
    }
}

/// A unit as OIM writes it: `iso4217:ZOC`, `iso4217:ZOC/xbrli:shares`, `(a:b*c:d)/e:f`.
pub(crate) fn oim_unit(text: &str, namespace: impl Fn(&str) -> Option<String>) -> FactUnit {
    let measures = |part: &str| {
        let part = part.trim().trim_start_matches('(').trim_end_matches(')');
        let one = |name: &str| {
            let (prefix, name) = name.trim().split_once(':').unwrap_or(("", name));
            Measure::named(&namespace(prefix).unwrap_or_default(), name)
        };
        part.split('*').map(one).collect::<Vec<_>>()
    };
    match text.split_once('/') {
        Some((top, bottom)) => unit_of(&measures(top), &measures(bottom)),
        None => unit_of(&measures(text), &[]),
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn units_of_oim_are_money_money_a_share_shares_and_numbers() {
        let unit = |text| {
            oim_unit(text, |prefix| match prefix {
                "iso4217" => Some(ISO4217.to_owned()),
                "xbrli" => Some(XBRLI.to_owned()),
                _ => None,
            })
        };
        let zoc = "ZOC".parse().unwrap();
        assert_eq!(unit("iso4217:ZOC"), FactUnit::Money(zoc));
        assert_eq!(unit("iso4217:ZOC/xbrli:shares"), FactUnit::PerShare(zoc));
        assert_eq!((unit("xbrli:shares"), unit("xbrli:pure")), (FactUnit::Shares, FactUnit::Pure));
        for other in ["iso4217:ZOC*xbrli:shares", "xbrli:shares/iso4217:ZOC", "other:ZOC", "iso4217:zoc", "", "(a:b*c:d)/e:f"] {
            assert_eq!(unit(other), FactUnit::Other, "{other}");
        }
    }
}
