//! The two cookies: of a session, and by which a browser is known in which somebody signed in before.

use super::{Reach, store::People};
use artemon_app::Home;
use axum::http::{HeaderMap, header::COOKIE};
use std::sync::Arc;
use time::Duration;
use tower_sessions::{
    Expiry, SessionManagerLayer,
    cookie::{Cookie, SameSite},
};

const SESSION: &str = "artemon";
const DEVICE: &str = "artemon-device";

/// Browsers take a cookie of such a name from an encrypted page of this very server alone.
fn name(reach: &Reach, name: &str) -> String {
    if reach.is_encrypted() { format!("__Host-{name}") } else { name.to_owned() }
}

/// Opens and keeps the session of each request. Scripts cannot read its cookie, and pages of other sites cannot have it sent.
pub(crate) fn sessions(reach: &Reach, home: &Arc<Home>) -> SessionManagerLayer<People> {
    SessionManagerLayer::new(People(home.clone()))
        .with_name(name(reach, SESSION))
        .with_secure(reach.is_encrypted())
        .with_http_only(true)
        .with_same_site(SameSite::Strict)
        // The cookie ends with the browser, the session before that: see `Signed`.
        .with_expiry(Expiry::OnSessionEnd)
}

/// The cookie by which a browser is known from now on.
pub(crate) fn device_cookie(reach: &Reach, device: &str) -> String {
    Cookie::build((name(reach, DEVICE), device.to_owned()))
        .path("/")
        .secure(reach.is_encrypted())
        .http_only(true)
        .same_site(SameSite::Strict)
        .max_age(Duration::days(400))
        .to_string()
}

/// By what a browser is known.
pub(super) fn device(reach: &Reach, headers: &HeaderMap) -> Option<String> {
    let name = name(reach, DEVICE);
    let all = headers.get_all(COOKIE).iter().filter_map(|cookies| cookies.to_str().ok());
    let found = all.flat_map(Cookie::split_parse).filter_map(Result::ok).find(|cookie| cookie.name() == name)?;
    Some(found.value().to_owned()).filter(|device| device.len() == 64)
}
