//! The formats of the transformation registries 1 to 5: what stands on a page → a number, a date or a word.

use super::dates::DateForm;

/// Where the registries' names live, by their dates.
const REGISTRY: &str = "http://www.xbrl.org/inlineXBRL/transformation/";
const DATES: [&str; 5] = ["2010-04-20", "2011-07-31", "2015-02-26", "2020-02-12", "2022-02-16"];

/// A format.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(super) enum Transform {
    /// A number whose decimals stand behind this mark.
    Decimal(char),
    /// A number of main units and hundredths: "12 dollars 50 cents".
    Units,
    /// A dash for nothing.
    Dash,
    /// A word, whatever stands there.
    Fixed(&'static str),
    /// A date.
    Date(DateForm),
}

impl Transform {
    /// The format of a registry and name; `None` for one that is not known.
    pub(super) fn named(registry: &str, name: &str) -> Option<Transform> {
        DATES.contains(&registry.strip_prefix(REGISTRY)?).then_some(())?;
        // The later registries have hyphens where the earlier had none.
        Some(match name.replace('-', "").as_str() {
            "numdotdecimal" | "numdotdecimalin" | "numdotdecimalapos" | "numcommadot" | "numspacedot" => Transform::Decimal('.'),
            "numcommadecimal" | "numcommadecimalapos" | "numdotcomma" | "numspacecomma" | "numcomma" => Transform::Decimal(','),
            "numunitdecimal" | "numunitdecimalin" | "numunitdecimalapos" => Transform::Units,
            "numdash" | "zerodash" => Transform::Dash,
            "fixedzero" => Transform::Fixed("0"),
            "fixedempty" | "nocontent" => Transform::Fixed(""),
            "fixedtrue" | "booleantrue" => Transform::Fixed("true"),
            "fixedfalse" | "booleanfalse" => Transform::Fixed("false"),
            _ => Transform::Date(DateForm::named(name)?),
        })
    }

    /// What the text says; `None` where the format cannot read it.
    pub(super) fn apply(self, text: &str) -> Option<String> {
        match self {
            Transform::Decimal(mark) => decimal(text, mark),
            Transform::Units => units(text),
            Transform::Dash => {
                let mut marks = text.trim().chars();
                let is_dash = |c| matches!(c, '-' | '\u{2010}'..='\u{2015}' | '\u{2212}' | '\u{fe58}' | '\u{fe63}' | '\u{ff0d}');
                (marks.next().is_some_and(is_dash) && marks.all(is_dash)).then(|| "0".to_owned())
            }
            Transform::Fixed(word) => Some(word.to_owned()),
            Transform::Date(form) => form.read(text),
        }
    }
}

/// A digit, of full width too.
pub(super) fn digit(c: char) -> Option<char> {
    match c {
        '0'..='9' => Some(c),
        '\u{ff10}'..='\u{ff19}' => char::from_digit(c as u32 - 0xff10, 10),
        _ => None,
    }
}

/// Digits with whatever separates thousands; a sign is none: a page shows it outside.
fn decimal(text: &str, mark: char) -> Option<String> {
    let mut out = String::new();
    let mut has_mark = false;
    for c in text.trim().chars() {
        let is_point = matches!(c, '.' | '\u{ff0e}');
        let is_comma = matches!(c, ',' | '\u{ff0c}');
        if let Some(digit) = digit(c) {
            out.push(digit);
        } else if (mark == '.' && is_point) || (mark == ',' && is_comma) {
            if std::mem::replace(&mut has_mark, true) {
                return None;
            }
            out.push('.');
        } else if (is_point || is_comma || c.is_whitespace() || matches!(c, '\'' | '`' | '´' | '’' | '′')) && !has_mark {
            // Between thousands.
        } else if !c.is_whitespace() {
            return None;
        }
    }
    let whole = out.trim_end_matches('.');
    whole.contains(|c: char| c.is_ascii_digit()).then(|| if whole.starts_with('.') { format!("0{whole}") } else { whole.to_owned() })
}

/// Whole units, something that is no digit, hundredths.
fn units(text: &str) -> Option<String> {
    let runs: Vec<String> = text
        .split(|c: char| digit(c).is_none() && !matches!(c, ',' | '.' | '\'' | '\u{a0}'))
        .map(|run| run.chars().filter_map(digit).collect::<String>())
        .filter(|run| !run.is_empty())
        .collect();
    match runs.as_slice() {
        [whole, hundredths] if hundredths.len() <= 2 => Some(format!("{whole}.{hundredths:0>2}")),
        _ => None,
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn read(registry: usize, name: &str, text: &str) -> Option<String> {
        Transform::named(&format!("{REGISTRY}{}", DATES[registry - 1]), name).expect(name).apply(text)
    }

    #[test]
    fn numbers_of_all_registries() {
        for (registry, name, text, number) in [
            (1, "numcommadot", "1,234.5", "1234.5"),
            (1, "numspacecomma", "1 234,5", "1234.5"),
            (1, "numdash", "-", "0"),
            (2, "numdotdecimal", " 27 433 ", "27433"),
            (3, "numcommadecimal", "987.654,5", "987654.5"),
            (3, "zerodash", "–", "0"),
            (3, "numdotdecimalin", "1,23,456.7", "123456.7"),
            (3, "numunitdecimal", "12 dollars and 5 cents", "12.05"),
            (4, "num-dot-decimal", "3\u{a0}210", "3210"),
            (4, "num-dot-decimal", ".45", "0.45"),
            (4, "fixed-zero", "nil", "0"),
            (5, "num-comma-decimal-apos", "1'234,50", "1234.50"),
            (5, "num-dot-decimal", "１，２３４．５", "1234.5"),
        ] {
            assert_eq!(read(registry, name, text).as_deref(), Some(number), "{name} {text}");
        }
        for (name, text) in [
            ("num-dot-decimal", "(12)"),
            ("num-dot-decimal", "1.2.3"),
            ("num-dot-decimal", ""),
            ("num-dot-decimal", "n/a"),
            ("num-dot-decimal", "-5"),
        ] {
            assert_eq!(read(4, name, text), None, "{text}");
        }
        assert_eq!(read(3, "zerodash", "0"), None);
    }

    #[test]
    fn formats_of_no_registry_are_not_known() {
        assert_eq!(Transform::named("http://quern.example/transformation", "numdotdecimal"), None);
        assert_eq!(Transform::named("http://www.xbrl.org/inlineXBRL/transformation/2099-01-01", "numdotdecimal"), None);
        assert_eq!(Transform::named(&format!("{REGISTRY}2020-02-12"), "num-roman"), None);
    }
}
