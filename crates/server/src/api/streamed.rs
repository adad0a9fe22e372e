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
        let done = write(Pieces { send, piece: Vec::new(), runtime: runtime.clone(), begun: Some(begun) });
        if let Err(e) = done {
            tracing::warn!("a file broke off: {}", e.for_log());
            // An error in the stream tells the reader that the file is not whole, however many pieces still wait.
            runtime.block_on(ended.send_timeout(Err(io::Error::other(e)), PATIENCE)).ok();
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

#[cfg(test)]
mod tests {
    use super::*;
    use axum::body::to_bytes;
    use std::io::Write;

    /// So many whole pieces, and then what comes of it.
    async fn pieces(n: usize, end: Result<(), AppError>) -> Result<Body, Problem> {
        streamed(move |mut out| {
            (0..n).try_for_each(|i| out.write_all(&vec![b'a' + u8::try_from(i % 26).unwrap_or_default(); PIECE])).map_err(stream)?;
            end
        })
        .await
    }

    #[allow(clippy::needless_pass_by_value)] // the form that map_err asks for
    fn stream(e: io::Error) -> AppError {
        AppError::Refused(e.to_string())
    }

    #[tokio::test(flavor = "multi_thread")]
    async fn a_file_comes_whole_and_in_order() {
        let all = to_bytes(pieces(3 * PIECES, Ok(())).await.unwrap(), usize::MAX).await.unwrap();
        assert_eq!(all.len(), 3 * PIECES * PIECE);
        assert!(all.chunks(PIECE).enumerate().all(|(i, piece)| usize::from(piece[0] - b'a') == i % 26));
        assert!(to_bytes(pieces(0, Ok(())).await.unwrap(), usize::MAX).await.unwrap().is_empty());
    }

    #[tokio::test(flavor = "multi_thread")]
    async fn what_is_refused_before_the_first_piece_is_said() {
        let refused = || Err(AppError::Refused("There is nothing to save.".to_owned()));
        let problem = pieces(0, refused()).await.unwrap_err();
        assert_eq!((problem.status, problem.title.as_str()), (422, "There is nothing to save."));
    }

    #[tokio::test(flavor = "multi_thread")]
    async fn a_file_that_breaks_off_never_ends_as_if_it_were_whole() {
        // As many pieces as may wait are there before anybody reads.
        for n in [1, PIECES - 1, PIECES, PIECES + 1] {
            let body = pieces(n, Err(AppError::Refused("The disk is gone.".to_owned()))).await.unwrap();
            tokio::time::sleep(Duration::from_millis(100)).await;
            assert!(to_bytes(body, usize::MAX).await.is_err(), "after {n} pieces");
        }
    }

    #[tokio::test(flavor = "multi_thread")]
    async fn who_goes_away_is_not_written_for() {
        let (told, ended) = tokio::sync::oneshot::channel();
        let body = streamed(move |mut out| {
            let done = (0..1_000).try_for_each(|_| out.write_all(&vec![0; PIECE])).map_err(stream);
            told.send(done.is_err()).ok();
            done
        });
        drop(body.await.unwrap());
        assert!(tokio::time::timeout(Duration::from_secs(10), ended).await.unwrap().unwrap(), "the writing ends");
    }
}
