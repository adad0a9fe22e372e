//! What is kept on disk: two SQLite files in the data folder.
//!
//! `dataset.sqlite` ([`Dataset`]) is large and replaceable: what was imported, with the reports. `people.sqlite`
//! ([`People`]) is small and precious: what belongs to persons. Each has one writer at a time; readers go on undisturbed.

mod copies;
mod dataset;
mod db;
mod error;
mod files;
mod legacy;
mod lock;
pub mod moment;
mod people;
mod swap;

pub use copies::{
    Kept, PeopleCopy, copy, copy_people, examine, newest_sound_copy, people_copies, people_copy, put_away, put_back, sound_copies,
};
pub use dataset::{Batch, Dataset, KeptImport, Keys, NewImport, Selection, SetAside};
pub use error::StoreError;
pub use files::has_dataset;
pub use lock::FolderLock;
pub use people::{
    Departed, Document, DocumentHead, DocumentVersion, EndedBacktest, Firing, Joined, Joining, KeptAccount, KeptAddress, KeptBacktest,
    KeptCredential, KeptDecision, KeptEntry, KeptEvent, KeptInvitation, KeptMail, KeptOverride, KeptReview, KeptRun, KeptSession,
    KeptShare, KeptStatement, KeptToken, LOCAL, Landed, Landing, NewDecision, NewDocument, NewEntry, NewEvent, NewFiring, NewMail,
    NewStatement, People, PersonId, Saved, Visit, WAITING, unguessable,
};
pub use swap::swap_dataset;
