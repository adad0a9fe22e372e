//! Who is at the low of a year, and sound nevertheless.

use crate::{
    domain::Kind,
    engine::{Context, Section},
    formula::Args,
    panel::{CompanyAt, CompanyIndex},
    price,
};
use rayon::prelude::*;

/// Who is at a yearly low.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct YearlyLows {
    /// All of them but funds, by symbol.
    pub all: Vec<CompanyIndex>,
    /// Those of soundness 1 to 3: the soundest first, then by symbol.
    pub sound: Vec<SoundLow>,
}

/// A sound company at its yearly low.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct SoundLow {
    /// The company.
    pub company: CompanyIndex,
    /// 1 to 3.
    pub soundness: u8,
    /// Price ÷ yearly low − 1.
    pub from_low: f64,
    /// 0 to 100.
    pub quality: f64,
    /// How many flags are raised.
    pub red_flags: usize,
}

/// The least soundness, as 1 (best) to 4.
const SOUND: f64 = 3.0;

/// Who is at a yearly low at a date.
#[must_use]
pub fn yearly_lows(context: &Context, section: &Section<'_>) -> YearlyLows {
    let last_session = Args { count: 1, ..Args::default() };
    let is_low = |c: &&CompanyAt<'_>| c.kind() != Kind::Fund && price::at_low_52w(c, &last_session) == Ok(true);
    let at_low: Vec<&CompanyAt<'_>> = section.rows().par_iter().filter(is_low).collect();
    let values = context.valuations(section.t());
    let sound = |c: &&CompanyAt<'_>| {
        let quality = &values[c.index as usize].quality;
        let soundness = quality.soundness().ok().filter(|s| *s <= SOUND)?;
        let from_low = c.price().ok()? / price::low_52w(c).ok()? - 1.0;
        #[allow(clippy::cast_possible_truncation, clippy::cast_sign_loss)] // one of 1, 2, 3
        Some(SoundLow {
            company: c.index,
            soundness: soundness as u8,
            from_low,
            quality: quality.score.ok()?,
            red_flags: quality.red_flags(),
        })
    };
    let mut sound: Vec<SoundLow> = at_low.iter().filter_map(sound).collect();
    sound.sort_by_key(|s| (s.soundness, s.company));
    YearlyLows { all: at_low.into_iter().map(|c| c.index).collect(), sound }
}

/// Whether the newest bar of a company made a new low of the year.
#[must_use]
pub(super) fn is_new_low(c: &CompanyAt<'_>) -> Option<bool> {
    let bars = c.bars();
    let low = price::low_52w(c).ok()?;
    Some(bars.low(bars.len().checked_sub(1)?) <= low)
}
