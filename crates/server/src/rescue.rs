//! One page instead of all others, when what is one's own cannot be opened: which copy to put in its place.

use crate::{
    assets::with_nonce,
    auth::{Reach, own_pages_only},
    connections,
    encrypting::Encrypting,
    error::Problem,
};
use artemon_app::Rescue;
use axum::{
    Form, Router,
    extract::State,
    http::{StatusCode, Uri, header},
    middleware,
    response::{IntoResponse, Response},
    routing::{get, post},
};
use serde::Deserialize;
use std::sync::Arc;
use tokio::{net::TcpListener, sync::watch};

/// The page; words in capitals are filled in.
const PAGE: &str = include_str!("rescue.html");

#[derive(Clone)]
struct Rescuing {
    rescue: Arc<Rescue>,
    done: watch::Sender<bool>,
}

/// Offers the way back until somebody takes it, and says whether somebody did before `shutdown` was done.
///
/// # Errors
/// When the listener fails.
pub async fn serve_rescue(listener: TcpListener, rescue: Rescue, shutdown: impl Future<Output = ()>) -> std::io::Result<bool> {
    let (done, stopping) = watch::channel(false);
    let reach = Arc::new(Reach::local(listener.local_addr()?));
    let state = Rescuing { rescue: Arc::new(rescue), done };
    let router = Router::new()
        .route("/rescue", post(take).get(offer))
        .fallback(get(offer))
        .layer(middleware::from_fn_with_state(reach, own_pages_only))
        .with_state(state);
    let taken = stopping.clone();
    tokio::select! {
        served = connections::serve(listener, router, Encrypting::None, stopping) => served.map(|()| *taken.borrow()),
        () = shutdown => Ok(false),
    }
}

async fn offer(State(state): State<Rescuing>, uri: Uri) -> Response {
    if uri.path().starts_with("/api") {
        let sentence = "Your own work cannot be opened. Open the address of this server in a browser: it shows what can be done.";
        return Problem::new(StatusCode::SERVICE_UNAVAILABLE, "own-unreadable", sentence).into_response();
    }
    if *state.done.borrow() {
        return starting(&state.rescue);
    }
    let choice = |value: &str, title: &str, more: &str, kind: &str| {
        format!("<button {kind} name=\"choice\" value=\"{}\">{title}<small>{more}</small></button>", escaped(value))
    };
    let copies = state.rescue.copies.iter().enumerate().map(|(n, copy)| {
        let (day, time) = copy.made_at.split_once('T').unwrap_or((&copy.made_at, ""));
        let title = format!("Put the copy of {day}, {} UTC, back", time.get(..5).unwrap_or_default());
        choice(
            &copy.name,
            &title,
            &format!("{}, {} kB", escaped(&copy.reason), copy.size >> 10),
            if n == 0 { "class=\"first\" autofocus" } else { "" },
        )
    });
    let anew = choice("", "Begin without anything of your own", "screens, lists, notes and the ledger are empty then", "class=\"last\"");
    let none = "<p>There is no sound copy in this folder. If you have a backup elsewhere, stop Artemon and put it back at the terminal \
                with <code>artemon restore FOLDER</code>.</p>";
    let choices: String = copies.chain([anew]).collect();
    page(
        &state.rescue,
        if state.rescue.copies.is_empty() { none } else { "" },
        &format!("<form method=\"post\" action=\"/rescue\">{choices}</form>"),
    )
}

#[derive(Deserialize)]
struct Choice {
    choice: String,
}

async fn take(State(state): State<Rescuing>, Form(Choice { choice }): Form<Choice>) -> Response {
    let rescue = state.rescue.clone();
    let did = tokio::task::spawn_blocking(move || if choice.is_empty() { rescue.begin_anew() } else { rescue.put_back(&choice) }).await;
    match did {
        Ok(Ok(())) => {
            state.done.send_replace(true);
            starting(&state.rescue)
        }
        Ok(Err(e)) => {
            let said = format!("<p class=\"wrong\">{}</p><p><a href=\"/\">Choose again</a></p>", escaped(&e.to_string()));
            (Problem::from(e).status(), page(&state.rescue, &said, "")).into_response()
        }
        Err(_) => StatusCode::INTERNAL_SERVER_ERROR.into_response(),
    }
}

fn starting(rescue: &Rescue) -> Response {
    let said = "<p class=\"done\">Done. Artemon starts now; this page follows by itself.</p>";
    page(rescue, said, "<meta http-equiv=\"refresh\" content=\"2; url=/\">")
}

fn page(rescue: &Rescue, said: &str, choices: &str) -> Response {
    let folder = rescue.folder.display().to_string();
    let filled = [("PROBLEM", &*escaped(&rescue.problem)), ("FOLDER", &*escaped(&folder)), ("SAID", said), ("CHOICES", choices)];
    // Without it a browser would not say that the form is of this page.
    let own = [(header::REFERRER_POLICY, "same-origin")];
    let page = with_nonce(&filled.iter().fold(PAGE.to_owned(), |page, (word, with)| page.replace(&format!("{{{word}}}"), with)));
    (own, page).into_response()
}

fn escaped(text: &str) -> String {
    text.replace('&', "&amp;").replace('<', "&lt;").replace('>', "&gt;").replace('"', "&quot;")
}
