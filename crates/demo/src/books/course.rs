//! How a business goes from quarter to quarter beside its books: its quality, growth and margins, and what others believe of them.

use crate::{
    character::{Character, Fate, Story},
    random::Chance,
};

/// By which share margins of the good stray less.
const STEADIER: f64 = 0.75;
/// Quality below which a company is bad.
const BAD: f64 = -0.3;
/// By which share of the difference others correct what they believe of quality in a quarter.
const LEARNS: f64 = 0.08;
/// How much too high others think the growth of a trade that melts.
const UNSEEN: f64 = 0.07;
/// Revenue of a quarter above which growth slows.
const LARGE: f64 = 3e8;

/// What changes from quarter to quarter beside the books.
pub(super) struct Course {
    pub(super) quality: f64,
    /// Quality as others have come to believe in: they follow its changes slowly.
    pub(super) believed: f64,
    pub(super) growth: f64,
    /// Growth that others still believe in though it is over.
    pub(super) unseen: f64,
    pub(super) margin_shift: f64,
    /// What makers' cost takes from gross margin, and overhead gives back.
    pub(super) gross_shift: f64,
    /// How much longer customers take to pay.
    pub(super) later: f64,
    pub(super) season: [f64; 4],
}

impl Course {
    /// Quality fades towards the mean over decades, growth towards what quality and size allow.
    pub(super) fn go_on(&mut self, c: &Character, q: usize, revenue: f64, x: &mut Chance) {
        // The bad are mended or given up sooner than the good grow idle.
        let back = if self.quality < BAD { 0.055 } else { 0.006 };
        self.quality += back * (0.0 - self.quality) + 0.052 * x.normal();
        self.quality = self.quality.clamp(-1.2, 1.2);
        self.believed += LEARNS * (self.quality - self.believed);
        // The largest have nobody left to take customers from.
        let size = (revenue / LARGE).ln().max(0.0);
        self.growth += 0.05 * (0.050 + 0.018 * self.quality - 0.02 * size - self.growth) + 0.006 * x.normal();
        // The good are steadier.
        let steadier = (1.0 - STEADIER * self.quality).clamp(0.35, 1.7);
        self.margin_shift = 0.915 * self.margin_shift + 0.0190 * c.wobble * steadier * x.normal();
        self.gross_shift = 0.8 * self.gross_shift + 0.034 * x.normal();
        if c.is_dying(q) {
            self.growth = self.growth.min(-0.10);
            self.margin_shift -= 0.014;
        }
        if c.story.is_none() {
            self.follow(c.fate, q);
        }
        self.act(c.story, q);
    }

    /// What the fate of a company makes of it.
    fn follow(&mut self, fate: Fate, q: usize) {
        match fate {
            Fate::Dilutes | Fate::RollsUp => self.quality = self.quality.min(0.1),
            Fate::Melts(from) if q < from => self.quality = self.quality.min(-0.05),
            Fate::Melts(_) => {
                self.growth = self.growth.clamp(-0.07, -0.03);
                self.quality -= 0.017;
                self.unseen = UNSEEN;
            }
            Fate::Turns(at) if (at..at + 8).contains(&q) => self.margin_shift -= 0.03,
            Fate::Turns(at) if (at + 8..at + 20).contains(&q) => self.margin_shift = (self.margin_shift + 0.02).min(0.01),
            Fate::Compounds => {
                self.quality = self.quality.max(0.5);
                self.growth = self.growth.max(0.06);
                self.margin_shift *= 0.9;
            }
            _ => {}
        }
    }

    /// What a part in the stories makes of it.
    fn act(&mut self, story: Option<Story>, q: usize) {
        match story {
            Some(Story::Steady) => {
                self.quality = self.quality.max(0.8);
                self.growth = self.growth.clamp(0.06, 0.09);
                self.margin_shift = 0.0;
            }
            Some(Story::Trap) if q > 58 => {
                self.quality = 0.35 - 0.009 * (q - 58) as f64;
                self.growth = self.growth.clamp(-0.03, -0.02);
                self.margin_shift = 0.0;
            }
            Some(Story::Recovered) if (64..72).contains(&q) => self.margin_shift -= 0.045,
            Some(Story::Recovered) if q >= 72 => self.margin_shift = self.margin_shift.max(-0.01),
            Some(Story::FamilyBuys | Story::Cluster) => self.quality = self.quality.max(0.3),
            Some(Story::Hollow) => self.quality = self.quality.max(0.55),
            Some(Story::BuysBack) => self.quality = self.quality.max(0.6),
            Some(Story::Issuer) => self.growth = self.growth.max(0.08),
            Some(Story::Fraud) => {
                self.quality = self.quality.max(0.1);
                self.growth = if q > 76 { 0.24 } else { self.growth.max(0.08) };
                self.later += if q > 76 { 0.15 } else { 0.0 };
            }
            Some(Story::Peak) if q > 80 => self.margin_shift = 0.09,
            Some(Story::Bargain) => {
                self.quality = -0.3;
                self.margin_shift = 0.0;
                self.growth = self.growth.clamp(-0.02, 0.01);
            }
            Some(Story::Late) => self.quality = self.quality.min(0.0),
            _ => {}
        }
    }
}
