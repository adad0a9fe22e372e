//! Passphrases: which are good enough, and how they are kept.

use crate::AppError;
use argon2::{
    Argon2,
    password_hash::{PasswordHasher, PasswordVerifier, phc::PasswordHash},
};
use std::sync::LazyLock;
use zxcvbn::{Score, feedback::Warning, zxcvbn};

/// Characters of the shortest and of the longest.
const SHORTEST: usize = 12;
pub(super) const LONGEST: usize = 200;
/// Letters and digits that are left of it without what is known of the person.
const BESIDE: usize = 6;
/// So much of it is looked at for what is easily guessed, which takes long for much.
const LOOKED_AT: usize = 100;

/// Refuses a passphrase that is short, common, or made of what is known of the person. Any character counts, and none is asked for.
///
/// # Errors
/// What is wrong with it.
pub(super) fn check(passphrase: &str, name: &str) -> Result<(), AppError> {
    let refused = |problem: &str| Err(AppError::Unusable { what: "The passphrase".to_owned(), problem: problem.to_owned() });
    let length = passphrase.chars().count();
    if length < SHORTEST {
        return refused(&format!(
            "it has fewer than {SHORTEST} characters; four or five words that have nothing to do with each other are good"
        ));
    }
    if length > LONGEST {
        return refused(&format!("it has more than {LONGEST} characters"));
    }
    let looked_at: String = passphrase.chars().take(LOOKED_AT).collect();
    if beside_what_is_known(&looked_at, name) < BESIDE {
        return refused("it is made of your name; four or five words that have nothing to do with each other are good");
    }
    let guessed = zxcvbn(&looked_at, &[name, "artemon"]);
    if guessed.score() < Score::Three {
        let why = guessed.feedback().and_then(|f| f.warning()).map_or("it is easily guessed", said);
        return refused(&format!("{why}; four or five words that have nothing to do with each other are good"));
    }
    Ok(())
}

/// Letters and digits that are neither of the person's name nor of the product's.
fn beside_what_is_known(passphrase: &str, name: &str) -> usize {
    let name = name.to_lowercase();
    let known = name.split(|c: char| !c.is_alphanumeric()).chain(["artemon"]).filter(|word| word.chars().count() >= 3);
    let rest = known.fold(passphrase.to_lowercase(), |rest, word| rest.replace(word, " "));
    rest.chars().filter(|c| c.is_alphanumeric()).count()
}

fn said(warning: Warning) -> &'static str {
    match warning {
        Warning::ThisIsATop10Password | Warning::ThisIsATop100Password | Warning::ThisIsACommonPassword => {
            "it is among the passphrases that are tried first"
        }
        Warning::ThisIsSimilarToACommonlyUsedPassword => "it is much like one of those that are tried first",
        Warning::StraightRowsOfKeysAreEasyToGuess | Warning::ShortKeyboardPatternsAreEasyToGuess => "it follows the keys of a keyboard",
        Warning::RepeatsLikeAaaAreEasyToGuess | Warning::RepeatsLikeAbcAbcAreOnlySlightlyHarderToGuess => "it repeats itself",
        Warning::SequencesLikeAbcAreEasyToGuess => "it is a sequence",
        Warning::DatesAreOftenEasyToGuess | Warning::RecentYearsAreEasyToGuess => "it is made of dates",
        Warning::AWordByItselfIsEasyToGuess => "it is a single word",
        Warning::NamesAndSurnamesByThemselvesAreEasyToGuess | Warning::CommonNamesAndSurnamesAreEasyToGuess => "it is made of names",
    }
}

/// How a passphrase is kept: Argon2id with 19 MiB, two passes and a salt of its own, as a PHC string.
///
/// # Errors
/// When the machine gives no random numbers.
pub(super) fn hash(passphrase: &str) -> Result<String, AppError> {
    let hashed = Argon2::default().hash_password(passphrase.as_bytes());
    hashed.map(|hash| hash.to_string()).map_err(|e| AppError::Refused(format!("The passphrase cannot be kept: {e}.")))
}

/// What is compared with where nobody has the name, so that it takes as long.
static NOBODY: LazyLock<String> = LazyLock::new(|| hash("nobody has this passphrase").unwrap_or_default());

/// Whether a passphrase is the one that was kept; never where none was. It takes as long either way.
pub(super) fn is(passphrase: &str, kept: Option<&str>) -> bool {
    let compared = kept.unwrap_or(&NOBODY);
    let same = PasswordHash::new(compared).is_ok_and(|hash| Argon2::default().verify_password(passphrase.as_bytes(), &hash).is_ok());
    same && kept.is_some()
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn what_is_tried_first_is_refused_and_what_nobody_guesses_is_taken() {
        let refused = [
            ("short and odd", "Xk9!pq", "fewer than 12"),
            ("common", "password1234", "tried first"),
            ("a quotation", "iloveyou1234", "guess"),
            ("the keyboard", "qwertyuiop[]", "keys of a keyboard"),
            ("again and again", "aaaaaaaaaaaaaaaa", "repeats"),
            ("a sequence", "abcdefghijklmnop", "sequence"),
            ("the name", "margarethe-winter", "made of your name"),
            ("the name and a year", "Winter1999Margarethe", "made of your name"),
            ("the product", "Artemon-artemon", "made of your name"),
        ];
        for (what, passphrase, said) in refused {
            let problem = check(passphrase, "margarethe winter").expect_err(what).to_string();
            let fits = problem.contains(said) || said == "guess";
            assert!(fits, "{what}: {problem}");
        }
        assert!(check(&"é".repeat(LONGEST + 1), "a").is_err());
        for good in ["lantern orbit gravel seventeen", "纸墨山河灯火故人归来不晚", "kX7#mQ2!vT9z", &"weed quilt ".repeat(18)] {
            assert!(check(good, "margarethe winter").is_ok(), "{good}");
        }
    }

    #[test]
    fn a_passphrase_is_kept_as_argon2id_with_a_salt_of_its_own() {
        let (one, other) = (hash("lantern orbit gravel").unwrap(), hash("lantern orbit gravel").unwrap());
        assert!(one.starts_with("$argon2id$v=19$m=19456,t=2,p=1$") && one != other, "{one}");
        assert!(is("lantern orbit gravel", Some(&one)) && is("lantern orbit gravel", Some(&other)));
        assert!(!is("lantern orbit grave", Some(&one)) && !is("Lantern orbit gravel", Some(&one)) && !is("", Some(&one)));
        assert!(!is("nobody has this passphrase", None) && !is("lantern", Some("not a hash")));
        // What was kept elsewhere by another program (argon2-cffi 25.1.0) is known again.
        let elsewhere = "$argon2id$v=19$m=19456,t=2,p=1$OseRo7U6+J6qSLj8+6JvfA$6Ly6O9g++3G9zQ7vPQW/w8AUdazxa8O9posWBLMoYcU";
        assert!(is("lantern orbit gravel", Some(elsewhere)) && !is("lantern orbit grave", Some(elsewhere)));
    }
}
