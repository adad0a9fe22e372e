//! A company among its peers at one date.

use super::plan::Group;
use crate::{Num, Why, domain::Kind, panel::CompanyAt};
use std::collections::HashMap;

/// The fewest companies with a value that make a comparison.
const MIN_PEERS: usize = 5;

/// The defined values of a formula at one date by group, sorted.
#[derive(Debug, Default)]
pub(super) struct PeerTable {
    groups: HashMap<String, Vec<f64>>,
}

impl PeerTable {
    /// From the universe and its values; funds take no part.
    pub(super) fn new(group: Group, rows: &[CompanyAt<'_>], values: &[Num]) -> PeerTable {
        let mut groups: HashMap<String, Vec<f64>> = HashMap::new();
        for (row, value) in rows.iter().zip(values) {
            if let (false, Ok(v)) = (row.kind() == Kind::Fund, value) {
                groups.entry(group_of(group, row)).or_default().push(*v);
            }
        }
        groups.values_mut().for_each(|v| v.sort_by(f64::total_cmp));
        PeerTable { groups }
    }

    fn values(&self, group: Group, row: &CompanyAt<'_>) -> Result<&[f64], Why> {
        let values = self.groups.get(&group_of(group, row)).map_or(&[][..], Vec::as_slice);
        if values.len() < MIN_PEERS { Err(Why::FewPeers) } else { Ok(values) }
    }

    /// 100 × (less + (equal − 1) ÷ 2) ÷ (n − 1) among the group; undefined for funds and unlisted companies.
    pub(super) fn rank(&self, group: Group, row: &CompanyAt<'_>, x: Num) -> Num {
        if row.kind() == Kind::Fund {
            return Err(Why::NotMeaningful);
        }
        let x = x?;
        if !row.in_universe() {
            return Err(Why::NotListed);
        }
        let values = self.values(group, row)?;
        Ok(crate::stats::rank_in_sorted(x, values))
    }

    pub(super) fn median(&self, group: Group, row: &CompanyAt<'_>) -> Num {
        crate::stats::median(self.values(group, row)?).ok_or(Why::FewPeers)
    }
}

fn group_of(group: Group, row: &CompanyAt<'_>) -> String {
    let company = row.company();
    match group {
        Group::Sector => company.sector.clone(),
        Group::Industry => company.industry.clone(),
        Group::Country => company.country.clone(),
        Group::SectorCountry => format!("{}\u{1f}{}", company.sector, company.country),
        Group::Universe => String::new(),
    }
}
