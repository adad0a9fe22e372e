//! What became of a fact.

use crate::domain::codes;

codes! {
    /// What became of a fact, in the order in which it is tested.
    Outcome "what became of a fact" {
        /// Of a form whose figures are rounded, partial or pro forma.
        Form = "form",
        /// Of a filing that another file of the same import holds.
        RepeatedFiling = "repeated filing",
        /// Its format is unknown or cannot read its text.
        Transformation = "transformation",
        /// It belongs to another document than the one that is read.
        Target = "target",
        /// It describes the document and is no figure.
        Document = "document",
        /// Of another registrant of the same filing.
        Coregistrant = "coregistrant",
        /// Of a part of the company: a segment, a class, a scenario.
        Dimension = "dimension",
        /// Of another company than the document's.
        Entity = "entity",
        /// Of a concept of the company's own, which a person may map.
        Extension = "extension",
        /// Of a standard concept that serves no item.
        Unmapped = "unmapped",
        /// Without a value.
        Nil = "nil",
        /// Its value is no decimal number, or beyond ±10¹⁸.
        NotANumber = "not a number",
        /// In another kind of unit than the concept's.
        Unit = "unit",
        /// In another currency than the document's.
        Currency = "currency",
        /// Of a span that is no fiscal period.
        Period = "period",
        /// Of a day for which the filing gives no total assets.
        NoBalanceSheet = "no balance sheet",
        /// Another fact of the same concept and period contradicts it.
        Conflict = "conflict",
        /// The same figure as another, less exact.
        Duplicate = "duplicate",
        /// Another concept makes it unnecessary.
        Superseded = "superseded",
        /// To date, where the quarter's own figure is given or cannot be formed.
        YearToDate = "year-to-date",
        /// Of a period of which the filing gives neither revenue, net income nor total assets.
        Stub = "stub",
        /// Equal to what was known already.
        Unchanged = "unchanged",
        /// It is in a row: alone, in a sum or in a difference.
        Used = "used",
    }
}
