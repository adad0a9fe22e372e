//! What companies are worth, and what is assumed for that.

pub(crate) mod assumptions;
mod overrides;
mod quality;
mod repairs;
pub(crate) mod spread;
pub(crate) mod value;

pub use assumptions::{
    AssumptionSet, assumption_sets, assumptions_version, delete_assumptions, restore_assumptions, save_assumptions, set_named,
    use_assumptions,
};
pub use overrides::{OwnSoundness, assume_of_company, judge_soundness};
pub use quality::{ComponentAnswer, ComponentKind, FlagAnswer, FlagFigure, PillarAnswer, QualityAnswer, components};
pub use repairs::{MatchRequest, Repairs, match_company, repairs};
pub use spread::Spread;
pub use value::{CellAsked, DrawsAnswer, ModelAnswer, ValueAnswer, ValueRequest, value, value_with};
