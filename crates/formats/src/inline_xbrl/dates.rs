//! Dates as pages write them, in the languages of the registries.

use super::transform::digit;
use artemon_core::domain::Day;

/// A part of a date.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
enum Part {
    Day,
    Month,
    Year,
}

/// In which order a date is written, and in which language its month.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(super) struct DateForm {
    order: [Option<Part>; 3],
    /// `None` where the month is a number.
    months: Option<&'static [&'static str; 12]>,
}

/// How the names of months begin, enough of each to tell it.
const LANGUAGES: &[(&str, [&str; 12])] = &[
    ("en", ["jan", "feb", "mar", "apr", "may", "jun", "jul", "aug", "sep", "oct", "nov", "dec"]),
    ("bg", ["ян", "фев", "мар", "апр", "май", "юни", "юли", "авг", "сеп", "окт", "ное", "дек"]),
    ("cs", ["led", "úno", "bře", "dub", "kvě", "červn", "červe", "srp", "zář", "říj", "lis", "pro"]),
    ("da", ["jan", "feb", "mar", "apr", "maj", "jun", "jul", "aug", "sep", "okt", "nov", "dec"]),
    ("de", ["jän|jan", "feb", "mär|mrz", "apr", "mai", "jun", "jul", "aug", "sep", "okt", "nov", "dez"]),
    ("el", ["ιαν", "φεβ", "μαρ|μάρ", "απρ", "μαΐ|μάι|μαϊ|μαι", "ιουν|ιούν", "ιουλ|ιούλ", "αυγ|αύγ", "σεπ", "οκτ", "νοε", "δεκ"]),
    ("es", ["ene", "feb", "mar", "abr", "may", "jun", "jul", "ago", "sep", "oct", "nov", "dic"]),
    ("et", ["jaan", "veeb", "mär", "apr", "mai", "juun", "juul", "aug", "sept", "okt", "nov", "dets"]),
    ("fi", ["tam", "hel", "maa", "huh", "tou", "kes", "hei", "elo", "syy", "lok", "mar", "jou"]),
    ("fr", ["janv", "fév|fev", "mars", "avr", "mai", "juin", "juil", "aoû|aou", "sept", "oct", "nov", "déc|dec"]),
    ("hr", ["sij", "velj", "ožu", "tra", "svi", "lip", "srp", "kol", "ruj", "lis", "stu", "pro"]),
    ("hu", ["jan", "feb", "már", "ápr", "máj", "jún", "júl", "aug", "szep", "okt", "nov", "dec"]),
    ("it", ["gen", "feb", "mar", "apr", "mag", "giu", "lug", "ago", "set", "ott", "nov", "dic"]),
    ("lt", ["saus", "vas", "kov", "bal", "geg", "birž", "liep", "rugp", "rugs", "spal", "lapk", "gruod"]),
    ("lv", ["janv", "febr", "mart", "apr", "mai", "jūn", "jūl", "aug", "sept", "okt", "nov", "dec"]),
    ("nl", ["jan", "feb", "maa|mrt", "apr", "mei", "jun", "jul", "aug", "sep", "okt", "nov", "dec"]),
    ("no", ["jan", "feb", "mar", "apr", "mai", "jun", "jul", "aug", "sep", "okt", "nov", "des"]),
    ("pl", ["sty", "lut", "mar", "kwi", "maj", "cze", "lip", "sie", "wrz", "paź", "lis", "gru"]),
    ("pt", ["jan", "fev", "mar", "abr", "mai", "jun", "jul", "ago", "set", "out", "nov", "dez"]),
    ("ro", ["ian", "feb", "mar", "apr", "mai", "iun", "iul", "aug", "sep", "oct", "noi|nov", "dec"]),
    ("sk", ["jan", "feb", "mar", "apr", "máj", "jún", "júl", "aug", "sep", "okt", "nov", "dec"]),
    ("sl", ["jan", "feb", "mar", "apr", "maj", "jun", "jul", "avg", "sep", "okt", "nov", "dec"]),
    ("sv", ["jan", "feb", "mar", "apr", "maj", "jun", "jul", "aug", "sep", "okt", "nov", "dec"]),
];

fn months(language: &str) -> Option<&'static [&'static str; 12]> {
    let language = if language == "dk" { "da" } else { language };
    LANGUAGES.iter().find(|(code, _)| *code == language).map(|(_, months)| months)
}

impl DateForm {
    /// The form of a format's name in any registry; `None` for those of other calendars.
    pub(super) fn named(name: &str) -> Option<DateForm> {
        use Part::{Day, Month, Year};
        let (order, language): (&[Part], &str) = match name {
            "dateslashus" | "datedotus" => (&[Month, Day, Year], ""),
            "dateslasheu" | "datedoteu" => (&[Day, Month, Year], ""),
            "datelongus" | "dateshortus" => (&[Month, Day, Year], "en"),
            "datelonguk" | "dateshortuk" => (&[Day, Month, Year], "en"),
            _ => return DateForm::spelled(name.strip_prefix("date")?),
        };
        DateForm::of(order, language)
    }

    /// `daymonthyear`, `daymonthyearen`, `-day-monthname-year-en`: the parts in their order and the language.
    fn spelled(name: &str) -> Option<DateForm> {
        let (mut rest, mut order) = (name, Vec::new());
        loop {
            rest = rest.trim_start_matches('-');
            let part = [("day", Part::Day), ("monthname", Part::Month), ("month", Part::Month), ("year", Part::Year)];
            let Some((word, part)) = part.into_iter().find(|(word, _)| rest.starts_with(word)) else { break };
            order.push(part);
            rest = &rest[word.len()..];
        }
        DateForm::of(&order, if rest == "cjk" { "" } else { rest })
    }

    fn of(order: &[Part], language: &str) -> Option<DateForm> {
        let months = if language.is_empty() { None } else { Some(months(language)?) };
        if !(2..=3).contains(&order.len()) || !order.contains(&Part::Month) {
            return None;
        }
        let mut parts = order.iter().copied();
        Some(DateForm { order: [parts.next(), parts.next(), parts.next()], months })
    }

    /// The date as ISO 8601: `2024-06-30`, `--06-30` without the year, `2024-06` without the day.
    pub(super) fn read(self, text: &str) -> Option<String> {
        let (numbers, named) = self.tokens(text);
        let mut numbers = numbers.into_iter();
        let (mut day, mut month, mut year) = (None, None, None);
        for part in self.order.into_iter().flatten() {
            match part {
                Part::Month if self.months.is_some() => month = named,
                Part::Day => day = numbers.next(),
                Part::Month => month = numbers.next(),
                Part::Year => year = numbers.next().map(|y| if y < 100 { y + 2000 } else { y }),
            }
        }
        if numbers.next().is_some() {
            return None;
        }
        let wants = |part| self.order.contains(&Some(part));
        match (wants(Part::Year), wants(Part::Day)) {
            (true, true) => Day::from_ymd(year?.cast_signed(), month?, day?).map(|d| d.to_string()),
            // A leap year, so that 29 February is a day.
            (false, _) => Day::from_ymd(2000, month?, day?).map(|d| format!("-{}", &d.to_string()[4..])),
            (true, false) => Day::from_ymd(year?.cast_signed(), month?, 1).map(|d| d.to_string()[..7].to_owned()),
        }
    }

    /// The numbers in their order, and the month that is named.
    fn tokens(self, text: &str) -> (Vec<u32>, Option<u32>) {
        let (mut numbers, mut month) = (Vec::new(), None);
        let is_number = |c: char| digit(c).is_some();
        for word in text.split(|c: char| !c.is_alphanumeric()).filter(|w| !w.is_empty()) {
            let mut rest = word;
            while let Some(c) = rest.chars().next() {
                let end = rest.find(|x| is_number(x) != is_number(c)).unwrap_or(rest.len());
                let (run, after) = rest.split_at(end);
                rest = after;
                if is_number(c) {
                    numbers.extend(run.chars().filter_map(digit).collect::<String>().parse::<u32>().ok());
                } else if let Some(found) = self.month(run) {
                    month = month.or(Some(found));
                }
            }
        }
        (numbers, month)
    }

    fn month(self, word: &str) -> Option<u32> {
        let word = word.to_lowercase();
        let at = self.months?.iter().position(|stems| stems.split('|').any(|stem| word.starts_with(stem)))?;
        u32::try_from(at + 1).ok()
    }
}

#[cfg(test)]
mod tests {
    use super::DateForm;

    #[test]
    fn dates_are_read_in_their_order_and_language() {
        for (name, text, date) in [
            ("dateslashus", "6/30/2024", "2024-06-30"),
            ("datedoteu", "30.06.24", "2024-06-30"),
            ("datelonguk", "30 June 2024", "2024-06-30"),
            ("datemonthdayyearen", "June 30, 2024", "2024-06-30"),
            ("datedaymonthyearen", "30th June, 2024", "2024-06-30"),
            ("datedaymonthyear", "30.6.2024", "2024-06-30"),
            ("dateyearmonthdaycjk", "2024年6月30日", "2024-06-30"),
            ("datemonthday", "12/31", "--12-31"),
            ("datemonthdayen", "December 31", "--12-31"),
            ("datemonthyearen", "June 2024", "2024-06"),
            ("date-monthname-day-year-en", "June 30, 2024", "2024-06-30"),
            ("date-day-monthname-year-de", "30. März 2024", "2024-03-30"),
            ("date-day-monthname-year-cs", "30. června 2024", "2024-06-30"),
            ("date-day-monthname-year-cs", "30. července 2024", "2024-07-30"),
            ("date-day-monthname-year-pl", "30 września 2024", "2024-09-30"),
            ("date-year-month-day", "2024-06-30", "2024-06-30"),
            ("date-day-monthname-da", "30. juni", "--06-30"),
        ] {
            assert_eq!(DateForm::named(name).expect(name).read(text).as_deref(), Some(date), "{name} {text}");
        }
        for (name, text) in [
            ("datedaymonthyearen", "31 June 2024"),
            ("datedaymonthyearen", "soon"),
            ("dateslashus", "30/6/2024"),
            ("datedoteu", "1.2.3.2024"),
        ] {
            assert_eq!(DateForm::named(name).unwrap().read(text), None, "{text}");
        }
        for other in ["dateerayearmonthdayjp", "date-ind-day-monthname-year-hi", "date", "dateyear", "numdotdecimal"] {
            assert_eq!(DateForm::named(other), None, "{other}");
        }
    }
}
