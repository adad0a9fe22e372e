//! Files that are written while they are read.

use crate::error::Problem;
use artemon_app::AppError;
use axum::{
    body::{Body, Bytes as Chunk},
    http::StatusCode,
};
use std::{io, time::Duration};
use tokio::sync::mpsc;
use tokio_stream::wrappers::ReceiverStream;

/// Pieces of a file that may wait for a slow reader.
const PIECES: usize = 8;
/// How long a reader may take nothing.
const PATIENCE: Duration = Duration::from_secs(60);
/// Bytes of a piece.
const PIECE: usize = 1 << 18;

/// A body that is written on a thread of its own, piece by piece, as fast as it is read. What is refused before the first
/// piece is a problem document; a reader who takes nothing for a while is left.
pub(super) async fn streamed(write: impl FnOnce(Pieces) -> Result<(), AppError> + Send + 'static) -> Result<Body, Problem> {
    let (send, receive) = mpsc::channel(PIECES);
    let runtime = tokio::runtime::Handle::current();
    let (begun, first) = tokio::sync::oneshot::channel();
    tokio::task::spawn_blocking(move || {
        let ended = send.clone();
        let done = write(Pieces { send, piece: Vec::new(), runtime, begun: Some(begun) });
        if let Err(e) = done {
            tracing::warn!("a file broke off: {}", e.for_log());
            // An error in the stream tells the reader that the file is not whole.
            ended.try_send(Err(io::Error::other(e))).ok();
        }
    });
    let mut pieces = ReceiverStream::new(receive);
    if first.await.is_err() {
        // It ended before its first piece: refused, or empty.
        return match futures_util::StreamExt::next(&mut pieces).await {
            Some(Err(e)) => Err(refused(e)),
            _ => Ok(Body::empty()),
        };
    }
    Ok(Body::from_stream(pieces))
}

/// The refusal in an error of the stream.
fn refused(e: io::Error) -> Problem {
    match e.into_inner().map(|inner| inner.downcast::<AppError>()) {
        Some(Ok(refusal)) => (*refusal).into(),
        _ => Problem::new(StatusCode::INTERNAL_SERVER_ERROR, "broken", "The file broke off before it began."),
    }
}

pub(super) struct Pieces {
    send: mpsc::Sender<io::Result<Chunk>>,
    piece: Vec<u8>,
    runtime: tokio::runtime::Handle,
    /// Told of the first piece.
    begun: Option<tokio::sync::oneshot::Sender<()>>,
}

impl io::Write for Pieces {
    fn write(&mut self, bytes: &[u8]) -> io::Result<usize> {
        self.piece.extend_from_slice(bytes);
        if self.piece.len() >= PIECE { self.flush().map(|()| bytes.len()) } else { Ok(bytes.len()) }
    }

    fn flush(&mut self) -> io::Result<()> {
        let piece = std::mem::take(&mut self.piece);
        if piece.is_empty() {
            return Ok(());
        }
        if let Some(begun) = self.begun.take() {
            begun.send(()).ok();
        }
        let sent = self.runtime.block_on(self.send.send_timeout(Ok(piece.into()), PATIENCE));
        sent.map_err(|_| io::Error::other("nobody reads the file any more"))
    }
}

impl Drop for Pieces {
    fn drop(&mut self) {
        let _ = io::Write::flush(self);
    }
}
