//! CSV that is meant to be opened in a spreadsheet. A Data Package holds every text as it is.

/// A cell that no spreadsheet takes for a formula: an apostrophe goes before what begins like one. Numbers stay as they are.
#[must_use]
pub fn harmless(cell: &str) -> String {
    let begins = cell.starts_with(['=', '+', '-', '@', '\t', '\r']) && cell.parse::<f64>().is_err();
    if begins { format!("'{cell}") } else { cell.to_owned() }
}

#[cfg(test)]
mod tests {
    use super::harmless;

    #[test]
    fn formulas_are_texts_and_numbers_are_numbers() {
        for cell in ["=1+1", "+A1", "-A1", "@sum", "\tx", "\r=1", "-pe", "=HYPERLINK(\"x\")"] {
            assert_eq!(harmless(cell), format!("'{cell}"));
        }
        for cell in ["", "Arden Mills", "-12.5", "+3", "-1e-7", "2026-06-30", "'=1"] {
            assert_eq!(harmless(cell), cell);
        }
    }
}
