//! The point-in-time rules of the dataset, each by a small company worked out by hand.
#![allow(clippy::unwrap_used)]

mod currencies;
mod estimates_and_people;
mod explanations;
mod indicators;
mod membership;
mod prices;
mod splits;
mod statements;
mod twelve_months;
#[path = "../world/mod.rs"]
mod world;
