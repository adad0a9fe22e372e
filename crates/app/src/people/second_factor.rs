//! The second factor: codes that change every half minute (TOTP, RFC 6238), and recovery codes for when whatever shows them is lost.

use super::{audit::with_entry, secret::hash};
use crate::{AppError, Ctx, Home};
use artemon_store::{KeptCredential, unguessable};
use qrcodegen::{QrCode, QrCodeEcc};
use serde::{Deserialize, Serialize};
use std::fmt::Write;
use totp_rs::{Builder, Secret, Totp};
use utoipa::ToSchema;

/// Recovery codes that there are.
const CODES: usize = 10;
/// Characters of one, of 32 each: 120 bits.
const CODE_LENGTH: usize = 24;
/// Letters and digits that are not taken for one another.
const LETTERS: &[u8; 32] = b"ABCDEFGHJKLMNPQRSTUVWXYZ23456789";

/// What an authenticator must be told. Nothing is kept until a code of it was typed.
#[derive(Clone, Debug, Serialize, ToSchema)]
pub struct BeginSecondFactor {
    /// The secret, in base 32, for who types it.
    pub secret: String,
    /// The same as an address of the form `otpauth://`.
    pub address: String,
    /// The same as a code to be scanned: its size, and the squares that are dark, as the path of an SVG.
    pub scan_size: i32,
    #[allow(missing_docs)]
    pub scan: String,
}

/// The first code of a second factor.
#[derive(Clone, Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
#[allow(missing_docs)]
pub struct TurnOn {
    pub secret: String,
    pub code: String,
}

/// Recovery codes, told this once. Each stands for a code once.
#[derive(Clone, Debug, PartialEq, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct RecoveryCodes {
    pub codes: Vec<String>,
}

/// What somebody typed.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(super) enum Code {
    Right,
    Recovery,
    Wrong,
}

/// Six digits, half a minute, and one step of tolerance on both sides (RFC 6238, 5.2).
fn totp(secret: Secret, name: &str) -> Result<Totp, AppError> {
    let plain: String = name.chars().map(|c| if c == ':' { ' ' } else { c }).collect();
    let built = Builder::new().with_secret(secret).with_account_name(plain).with_issuer(Some("Artemon")).build();
    built.map_err(|e| AppError::Refused(format!("The second factor cannot be used: {e}.")))
}

fn read(secret: &str) -> Result<Secret, AppError> {
    Secret::try_from_base32(secret)
        .map_err(|_| AppError::Refused("The secret of the second factor cannot be read. Begin again.".to_owned()))
}

/// Makes a secret to be told an authenticator.
///
/// # Errors
/// When there is nobody to sign in.
pub fn begin_second_factor(ctx: &Ctx) -> Result<BeginSecondFactor, AppError> {
    let secret = Secret::generate();
    let text = secret.to_base32();
    let address = totp(secret, &own(ctx)?.name)?.to_url().map_err(|e| AppError::Refused(format!("{e}.")))?;
    let scan = QrCode::encode_text(&address, QrCodeEcc::Medium).map_err(|e| AppError::Refused(format!("{e}.")))?;
    let size = scan.size();
    let mut path = String::new();
    for (x, y) in (0..size).flat_map(|y| (0..size).map(move |x| (x, y))).filter(|(x, y)| scan.get_module(*x, *y)) {
        write!(path, "M{x} {y}h1v1h-1z").ok();
    }
    Ok(BeginSecondFactor { secret: text, address, scan_size: size, scan: path })
}

/// Asks for a code at every sign-in from now on, once a first one was right.
///
/// # Errors
/// A code that is not right.
pub fn turn_second_factor_on(ctx: &Ctx, on: &TurnOn) -> Result<RecoveryCodes, AppError> {
    let totp = totp(read(&on.secret)?, &own(ctx)?.name)?;
    let step = totp.check(&digits(&on.code), now(&ctx.home));
    let sentence = "This is not the code that is shown now. Look whether the clock of the device is right, and type the next one.";
    let step = step.ok_or_else(|| AppError::Refused(sentence.to_owned()))?;
    let (codes, hashes) = new_codes();
    let step = i64::try_from(step).unwrap_or(i64::MAX);
    with_entry(ctx, "turned the second factor on", "", |entry| {
        ctx.home.people.set_second_factor(&ctx.person, &totp.secret().to_base32(), step, &hashes, entry)
    })?;
    Ok(RecoveryCodes { codes })
}

/// Asks for no code any more.
///
/// # Errors
/// When it cannot be kept.
pub fn turn_second_factor_off(ctx: &Ctx) -> Result<(), AppError> {
    with_entry(ctx, "turned the second factor off", "", |entry| ctx.home.people.set_second_factor(&ctx.person, "", 0, &[], entry))
}

/// Gives other recovery codes; those before do not count any more.
///
/// # Errors
/// Without a second factor; when they cannot be kept.
pub fn new_recovery_codes(ctx: &Ctx) -> Result<RecoveryCodes, AppError> {
    if own(ctx)?.second_factor.is_empty() {
        return Err(AppError::Refused("Turn the second factor on first.".to_owned()));
    }
    let (codes, hashes) = new_codes();
    with_entry(ctx, "made new recovery codes", "", |entry| ctx.home.people.set_recovery_codes(&ctx.person, &hashes, entry))?;
    Ok(RecoveryCodes { codes })
}

/// With what the caller signs in.
pub(super) fn own(ctx: &Ctx) -> Result<KeptCredential, AppError> {
    let sentence = "Nobody signs in here. Start the server with --shared.";
    ctx.home.people.credential(&ctx.person)?.ok_or_else(|| AppError::Refused(sentence.to_owned()))
}

/// Whether a code counts, which it does once.
pub(super) fn checked(home: &Home, who: &KeptCredential, code: &str) -> Result<Code, AppError> {
    let typed = digits(code);
    if typed.len() == 6 {
        let step = totp(read(&who.second_factor)?, &who.name)?.check(&typed, now(home));
        let unused = step.map(|step| home.people.use_step(&who.person, i64::try_from(step).unwrap_or(i64::MAX))).transpose()?;
        return Ok(if unused == Some(true) { Code::Right } else { Code::Wrong });
    }
    let used = home.people.use_recovery_code(&who.person, &hash(&letters(code)))?;
    Ok(if used { Code::Recovery } else { Code::Wrong })
}

fn now(home: &Home) -> u64 {
    u64::try_from(home.clock.now().timestamp()).unwrap_or_default()
}

/// What was typed without spaces.
fn digits(code: &str) -> String {
    code.chars().filter(|c| !c.is_whitespace()).collect()
}

/// A recovery code without what divides it.
fn letters(code: &str) -> String {
    code.chars().filter(char::is_ascii_alphanumeric).map(|c| c.to_ascii_uppercase()).collect()
}

/// Codes as they are shown, and how they are kept. They have enough bits to need no slow hash.
fn new_codes() -> (Vec<String>, Vec<String>) {
    let code = |_| {
        // Five bits of each of the random bytes.
        let random = unguessable();
        let bytes = (0..CODE_LENGTH).filter_map(|i| u8::from_str_radix(random.get(2 * i..2 * i + 2)?, 16).ok());
        bytes.map(|byte| char::from(LETTERS[usize::from(byte & 31)])).collect::<String>()
    };
    let codes: Vec<String> = (0..CODES).map(code).collect();
    let hashes = codes.iter().map(|code| hash(code)).collect();
    let shown = |code: &String| code.as_bytes().chunks(4).map(|part| String::from_utf8_lossy(part)).collect::<Vec<_>>().join("-");
    (codes.iter().map(shown).collect(), hashes)
}

#[cfg(test)]
mod tests {
    use super::*;

    /// Codes of another program (pyotp 2.9) for the same secret at the same times.
    #[test]
    fn codes_are_those_of_any_authenticator() {
        let totp = totp(read("JBSWY3DPEHPK3PXPJBSWY3DPEHPK3PXP").unwrap(), "Anna").unwrap();
        for (time, code) in [(1_767_225_600, "452777"), (1_767_225_630, "978927")] {
            assert_eq!(totp.check(code, time), Some(time / 30));
        }
        let at = 1_767_225_600;
        assert_eq!(totp.check("633020", at), Some(at / 30 - 1), "the one before still counts");
        assert_eq!(totp.check("978927", at), Some(at / 30 + 1), "and the next one already");
        assert_eq!(totp.check("478298", at), None, "an older one does not");
        let address = totp.to_url().unwrap();
        assert!(address.starts_with("otpauth://totp/Artemon:Anna?secret=JBSWY3DPEHPK3PXPJBSWY3DPEHPK3PXP"), "{address}");
    }

    #[test]
    fn recovery_codes_are_known_however_they_are_typed() {
        let (codes, hashes) = new_codes();
        assert!(codes.len() == 10 && codes.iter().collect::<std::collections::BTreeSet<_>>().len() == 10);
        assert!(codes.iter().all(|code| code.len() == 29 && code.split('-').all(|part| part.len() == 4)), "{codes:?}");
        let typed = format!(" {} ", codes[3].to_lowercase().replace('-', " "));
        assert_eq!(hash(&letters(&typed)), hashes[3]);
    }
}
