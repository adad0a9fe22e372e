//! What a person does in the browser, story by story, with the real program.
#![allow(clippy::unwrap_used)]

mod a_company_is_judged;
mod a_company_is_read;
mod a_morning;
mod an_order_becomes_a_holding;
mod data_comes_in;
mod everyones_hands;
mod figures_open;
mod from_start_to_candidates;
mod own_work_is_repaired;
mod people;
mod pictures;
mod screens_are_kept;
mod screens_lead_to_few;
mod speed;
mod steps;
mod the_guide;
mod two_people;
mod value_is_argued_with;
mod who_comes_in;
mod would_it_have_worked;
