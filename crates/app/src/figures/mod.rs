//! Figures: formulas answered, opened, distributed; the catalogue and the person's own measures.

mod catalogue;
pub(crate) mod compact;
mod distribution;
mod evaluate;
mod explain;
pub(crate) mod figure;
pub(crate) mod grouping;
mod own_measures;

pub use catalogue::{FormulaCheck, FunctionInfo, MeasureInfo, check_formula, function_list, measure_list};
pub use compact::{Cells, CompactRange, CompactSpread};
pub use distribution::{Distribution, DistributionRequest, distribution};
pub use evaluate::{EvaluateRequest, Evaluated, FormulaValue, evaluate};
pub use explain::{ExplainRequest, Explained, FigurePoint, FigureStanding, PeerPlace, explain, standing};
pub use figure::Figure;
pub use grouping::{GroupMedians, Grouping, Medians};
pub use own_measures::{delete_own_measure, own_measures, save_own_measure};
