//! Only pages of this server may talk to it: requests with a foreign Host or Origin are refused.

use crate::error::Problem;
use axum::{
    extract::{Request, State},
    http::{HeaderMap, StatusCode, header},
    middleware::Next,
    response::{IntoResponse, Response},
};
use std::net::SocketAddr;

pub(crate) async fn own_host_only(State(address): State<SocketAddr>, request: Request, next: Next) -> Response {
    if is_own(request.headers(), address) {
        return next.run(request).await;
    }
    let sentence = "This server answers its own pages only. Open it by the address it printed when it started.";
    Problem::new(StatusCode::FORBIDDEN, "foreign-host", sentence).into_response()
}

/// Host must be a loopback name or the address listened on; Origin, when sent, must be the same.
fn is_own(headers: &HeaderMap, address: SocketAddr) -> bool {
    let text = |name| headers.get(name).and_then(|v| v.to_str().ok());
    let own = |host: &str| {
        let allowed = [
            format!("localhost:{}", address.port()),
            format!("127.0.0.1:{}", address.port()),
            format!("[::1]:{}", address.port()),
            address.to_string(),
        ];
        allowed.iter().any(|a| a == host)
    };
    let host = text(header::HOST).is_some_and(own);
    let origin = text(header::ORIGIN).is_none_or(|o| o.strip_prefix("http://").is_some_and(own));
    host && origin
}
