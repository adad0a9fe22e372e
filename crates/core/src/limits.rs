//! How wide what is asked may be: far more than anybody reads, and little enough that nobody can keep a machine busy with one
//! request.

use crate::wording::figures::whole;
use serde::{Deserialize, Deserializer, de::Error};

/// Formulas of one request, columns of a screen, criteria of a block.
pub const FORMULAS: usize = 100;
/// Criteria, columns and keys of a screen together.
pub const FORMULAS_IN_ALL: usize = 250;
/// Blocks of a screen.
pub const BLOCKS: usize = 30;
/// Keys to sort by.
pub const KEYS: usize = 10;
/// Names in a list: companies, sectors, values that a text may have.
pub const NAMES: usize = 20_000;
/// Characters of a reason, a thesis or a note beside something.
pub const TEXT: usize = 4_000;
/// Comparisons of one request with own histories, other dates or peers: each looks at far more than one day of a company.
pub const COMPARISONS: usize = 80;

/// Reads a list of `MOST` at most.
///
/// # Errors
/// A longer one, in a sentence without a full stop.
pub fn at_most<'de, D: Deserializer<'de>, T: Deserialize<'de>, const MOST: usize>(from: D) -> Result<Vec<T>, D::Error> {
    let list = Vec::deserialize(from)?;
    if list.len() > MOST {
        return Err(Error::custom(format!("{} are too many at once, {MOST} are possible", list.len())));
    }
    Ok(list)
}

/// Refuses a text of more than `most` characters.
///
/// # Errors
/// In a sentence without subject and full stop: "it may have at most 4,000 characters".
pub fn fits(text: &str, most: usize) -> Result<(), String> {
    if text.chars().count() > most {
        return Err(format!("it may have at most {} characters", whole(most as f64)));
    }
    Ok(())
}

#[cfg(test)]
mod tests {
    use super::{TEXT, fits};
    use crate::screening::Screen;
    use serde_json::json;

    #[test]
    fn what_is_too_wide_is_refused_and_what_just_fits_is_not() {
        let read = |columns: usize, criteria: usize, blocks: usize| {
            let block = json!({ "criteria": vec![json!({ "formula": "pe" }); criteria] });
            let screen = json!({ "columns": vec!["pe"; columns], "blocks": vec![block; blocks] });
            serde_json::from_value::<Screen>(screen).map_err(|e| e.to_string())
        };
        assert!(read(100, 100, 30).is_ok());
        assert_eq!(read(101, 1, 1).unwrap_err(), "101 are too many at once, 100 are possible");
        assert_eq!(read(1, 101, 1).unwrap_err(), "101 are too many at once, 100 are possible");
        assert_eq!(read(1, 1, 31).unwrap_err(), "31 are too many at once, 30 are possible");
    }

    #[test]
    fn texts_are_counted_in_characters() {
        assert_eq!(fits(&"é".repeat(TEXT), TEXT), Ok(()));
        assert_eq!(fits(&"é".repeat(TEXT + 1), TEXT).unwrap_err(), "it may have at most 4,000 characters");
    }
}
