//! A feed over HTTP on this machine: `GET /sessions` is the list of its days as JSON, `GET /sessions/2026-07-01.zip` the Data Package of
//! one.

use crate::ports::Feed;
use artemon_core::domain::{Day, Record};
use artemon_formats::{Known, data_package};
use std::{fs, time::Duration};
use url::{Host, Url};

/// How long an answer may take, and how large it may be, in bytes.
const PATIENCE: Duration = Duration::from_secs(20);
const LARGEST: u64 = 500_000_000;

/// A feed at an address of this machine.
#[derive(Debug)]
pub(super) struct HttpFeed {
    base: String,
    agent: ureq::Agent,
}

impl HttpFeed {
    /// At an address; one that is not of this machine is refused.
    pub(super) fn of(address: &str) -> Result<HttpFeed, String> {
        let unusable = || format!("\"{address}\" is not an address of this machine; write it like http://127.0.0.1:8019");
        let url = Url::parse(address).map_err(|_| unusable())?;
        let here = match url.host() {
            Some(Host::Ipv4(ip)) => ip.is_loopback(),
            Some(Host::Ipv6(ip)) => ip.is_loopback(),
            Some(Host::Domain(name)) => name == "localhost",
            None => false,
        };
        if url.scheme() != "http" || !here {
            return Err(unusable());
        }
        // What answers here must not send the server elsewhere.
        let agent = ureq::Agent::config_builder().timeout_global(Some(PATIENCE)).max_redirects(0).build().into();
        Ok(HttpFeed { base: address.trim_end_matches('/').to_owned(), agent })
    }

    fn get(&self, path: &str) -> Result<Vec<u8>, String> {
        let broken = |e: &dyn std::fmt::Display| format!("{} does not answer for {path}: {e}", self.base);
        let mut answer = self.agent.get(format!("{}{path}", self.base)).call().map_err(|e| broken(&e))?;
        answer.body_mut().with_config().limit(LARGEST).read_to_vec().map_err(|e| broken(&e))
    }
}

impl Feed for HttpFeed {
    fn ahead(&self, last: Day) -> Result<Vec<Day>, String> {
        let mut days: Vec<Day> =
            serde_json::from_slice(&self.get("/sessions")?).map_err(|e| format!("{} gives no list of sessions: {e}", self.base))?;
        days.retain(|d| *d > last);
        days.sort_unstable();
        days.dedup();
        Ok(days)
    }

    fn session(&self, day: Day, known: &mut Known) -> Result<Vec<Record>, String> {
        let unreadable = |e: &dyn std::fmt::Display| format!("its package of {day} cannot be read: {e}");
        let folder = tempfile::tempdir().map_err(|e| unreadable(&e))?;
        let file = folder.path().join(format!("{day}.zip"));
        fs::write(&file, self.get(&format!("/sessions/{day}.zip"))?).map_err(|e| unreadable(&e))?;
        let mut rows = Vec::new();
        let mut take = |record: Record| {
            rows.push(record);
            Ok(())
        };
        let report = data_package::read(&file, known, &mut take).map_err(|e| unreadable(&e))?;
        match report.bad.first() {
            Some(bad) => Err(format!("its package of {day} has {} bad rows, so nothing was taken; the first: {bad}", report.bad_rows)),
            None => Ok(rows),
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use std::{
        io::{Read, Write},
        net::TcpListener,
    };

    #[test]
    fn a_feed_is_on_this_machine_and_sends_nobody_elsewhere() {
        for elsewhere in ["http://192.0.2.7", "https://127.0.0.1:1", "file:///etc", "http://127.0.0.1.example", "http://0.0.0.0:1", "here"]
        {
            assert!(HttpFeed::of(elsewhere).is_err(), "{elsewhere}");
        }
        let (feed, other) = (TcpListener::bind("127.0.0.1:0").unwrap(), TcpListener::bind("127.0.0.1:0").unwrap());
        let (at, to) = (feed.local_addr().unwrap(), other.local_addr().unwrap());
        std::thread::spawn(move || {
            let (mut asked, _) = feed.accept().unwrap();
            assert!(asked.read(&mut [0; 1024]).unwrap() > 0);
            write!(asked, "HTTP/1.1 302 Found\r\nLocation: http://{to}/\r\nContent-Length: 0\r\nConnection: close\r\n\r\n").unwrap();
        });
        let refused = HttpFeed::of(&format!("http://{at}")).unwrap().ahead(Day::MAX);
        assert!(refused.is_err(), "{refused:?}");
        other.set_nonblocking(true).unwrap();
        assert!(other.accept().is_err(), "it was asked");
    }
}
