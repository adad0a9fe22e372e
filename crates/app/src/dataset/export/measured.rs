//! What every measure says of every company as of some days, as Parquet files beside the tables.

use crate::{AppError, Ctx, Home, Options, figures::measure_list};
use artemon_core::{
    Why,
    domain::Day,
    formula::{Unit, Value},
};
use artemon_formats::{
    WriteError,
    parquet_table::{self, Cells, Column},
};
use std::{fs, path::Path};

/// What every measure says of every company as of some days: `measures/as_of=DAY/measures.parquet`.
pub(super) fn measured(folder: &Path, as_of: &[Day], part: &Path) -> Result<(), AppError> {
    let ctx = Home::open_to_read(Options { folder: folder.to_owned(), ..Options::default() })?.local_ctx()?;
    for day in as_of {
        let folder = part.join("measures").join(format!("as_of={day}"));
        let file = folder.join("measures.parquet");
        let io = |source| WriteError::Io { path: file.clone(), source };
        let bytes = measures_file(&ctx, *day)?;
        fs::create_dir_all(&folder).and_then(|()| fs::write(&file, bytes)).map_err(io)?;
    }
    Ok(())
}

/// Every measure that needs no argument, a column each, of every company of the universe as of a day; who it is before them.
fn measures_file(ctx: &Ctx, day: Day) -> Result<Vec<u8>, AppError> {
    let section = ctx.section(ctx.date(Some(day))?);
    let members = section.members().to_vec();
    let who = |name: &str, of: &dyn Fn(u32) -> String| Column {
        name: name.to_owned(),
        cells: Cells::Texts(members.iter().map(|i| Some(of(*i))).collect()),
    };
    let snapshot = ctx.snapshot();
    let mut columns = vec![
        who("symbol", &|i| snapshot.symbol(i).to_owned()),
        who("company_id", &|i| snapshot.company(i).id.to_string()),
        who("name", &|i| snapshot.company(i).name.clone()),
    ];
    let places: Vec<Option<usize>> = members.iter().map(|i| section.place(*i)).collect();
    for measure in measure_list() {
        let Ok(compiled) = section.compile(measure.id) else { continue };
        let answers = section.column(&compiled).at(&places, Why::NotListed);
        let values = (0..members.len()).map(|i| answers.value(i));
        let cells = match compiled.unit {
            Unit::Text => Cells::Texts(values.map(|v| if let Value::Text(t) = v { Some(t.to_string()) } else { None }).collect()),
            Unit::Flag => Cells::Flags(values.map(|v| if let Value::Flag(b) = v { Some(b) } else { None }).collect()),
            _ => Cells::Numbers(values.map(|v| v.number().ok()).collect()),
        };
        columns.push(Column { name: measure.id.to_owned(), cells });
    }
    Ok(parquet_table::write(&columns, &[("as_of", section.t().to_string())])?)
}
