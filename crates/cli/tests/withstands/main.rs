//! The built program under what may happen to it: kills, stalled and idle clients, damage, full disks.
#![allow(clippy::unwrap_used)]
#![cfg(unix)]

mod beside;
mod connections;
mod damaged;
mod evening;
mod full_disk;
mod hundred_people;
mod killed_files;
mod killed_imports;
mod killed_saves;
mod killed_sessions;
mod logged;
mod mixed_load;
mod server;
