//! Keeping it safe: copies of what is one's own, whole backups, looking for damage, and what is where.

mod backup;
mod copies;
mod health;
mod rescue;
mod whole;

pub use backup::{BackupReport, BackupRequest, Restored, backup, restore};
pub use copies::{CopyEntry, DAILY, Safety, copy_file, copy_now, copy_today, put_back, safety};
pub use health::{FileHealth, Health, LOG_DAYS, check, doctor, log_folder};
pub use rescue::Rescue;
pub(crate) use whole::made_whole;
