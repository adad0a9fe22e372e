//! `backup`, `restore`, `check` and `doctor`.

use crate::{
    args::{BackupArgs, Folder, RestoreArgs, Shared},
    output::print,
};
use artemon_app::BackupRequest;

pub(crate) fn backup(shared: &Shared, args: &BackupArgs) -> anyhow::Result<()> {
    let request = BackupRequest { to: args.to.clone(), people_only: args.people_only };
    let report = artemon_app::backup(&shared.folder(Folder::Data)?, &request)?;
    let rows: Vec<_> = report.files.iter().map(|(file, size)| vec![(*file).to_owned(), size.to_string()]).collect();
    print(shared.format, &report, &["file", "bytes"], &rows)
}

pub(crate) fn restore(shared: &Shared, args: &RestoreArgs) -> anyhow::Result<()> {
    let restored = artemon_app::restore(&shared.folder(Folder::Data)?, &args.from)?;
    let before = |path: &Option<std::path::PathBuf>| path.as_ref().map_or_else(String::new, |p| p.display().to_string());
    let rows: Vec<_> = restored.iter().map(|r| vec![r.file.to_owned(), before(&r.before)]).collect();
    print(shared.format, &restored, &["put back", "what was there before"], &rows)
}

pub(crate) fn check(shared: &Shared) -> anyhow::Result<()> {
    let health = artemon_app::check(&shared.folder(Folder::Data)?)?;
    let of = |file: &artemon_app::FileHealth| {
        let said = if file.problems.is_empty() { vec!["sound".to_owned()] } else { file.problems.clone() };
        said.into_iter().map(|said| vec![file.file.to_owned(), said]).collect::<Vec<_>>()
    };
    let rows: Vec<_> = health.files.iter().flat_map(of).collect();
    print(shared.format, &health, &["file", "state"], &rows)?;
    if health.is_sound() {
        return Ok(());
    }
    let way_back = health.sound_copy.as_ref().map_or_else(
        || "Import the dataset again; what is your own is put back with `artemon restore` from a backup.".to_owned(),
        |copy| format!("Put the newest sound copy of what is your own back: artemon restore \"{}\"", copy.display()),
    );
    anyhow::bail!("Something is damaged. {way_back}")
}

pub(crate) fn doctor(shared: &Shared) -> anyhow::Result<()> {
    let lines = artemon_app::doctor(&shared.folder(Folder::Data)?)?;
    let rows: Vec<_> = lines.iter().map(|(name, said)| vec![name.clone(), said.clone()]).collect();
    print(shared.format, &lines, &["what", "state"], &rows)
}
