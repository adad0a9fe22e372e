//! Lists of companies that a person follows: who is on them, with what one says of each and what became of it since.

mod body;
mod change;
mod file;
mod pasted;
mod rows;

pub(crate) use body::OwnList;
pub use body::{ListBody, Member, MemberOwn};
pub use change::{
    AddMembers, Added, MoveMembers, Moved, RestoreMembers, add_members, move_members, order_members, remove_members, restore_members,
    save_member,
};
pub use file::{ListFormat, list_file};
pub use pasted::{Pasted, PastedCompany, UnclearText, match_pasted};
pub use rows::{ListColumn, ListRow, ListRows, ListRowsRequest, Membership, company_lists, list_rows};

use crate::{
    AppError, Ctx,
    documents::{body::read, kind::DocumentKind},
};
use artemon_core::panel::Snapshot;
use artemon_store::{Document, People, PersonId};
use serde::Serialize;
use utoipa::ToSchema;

/// A list among others.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct ListEntry {
    /// The id of its document.
    pub id: String,
    pub name: String,
    /// Folders separated by `/`; empty at the top.
    pub folder: String,
    /// The newest version of the document.
    pub version: i32,
    pub saved_at: String,
    /// Who is on it: symbols as the dataset has them, else as last seen.
    pub symbols: Vec<String>,
}

/// A document that cannot be read, and why.
pub(crate) type Unread = (Document, String);

/// The lists of a person that can be read; those that cannot, with why.
pub(crate) fn own_lists(people: &People, person: &PersonId, snapshot: &Snapshot) -> Result<(Vec<OwnList>, Vec<Unread>), AppError> {
    let (mut lists, mut unread) = (Vec::new(), Vec::new());
    for document in people.whole_documents(person, DocumentKind::List.code())? {
        match read::<ListBody>(&document.body) {
            Ok(body) => lists.push(OwnList::new(document.head, body, snapshot)),
            Err(problem) => {
                lists.push(OwnList::new(document.head.clone(), ListBody::default(), snapshot));
                unread.push((document, problem));
            }
        }
    }
    lists.sort_by(|a, b| (&a.folder, &a.name).cmp(&(&b.folder, &b.name)));
    Ok((lists, unread))
}

/// The person's lists, by folder and name.
#[must_use]
pub fn lists(ctx: &Ctx) -> Vec<ListEntry> {
    ctx.own.lists.iter().map(|list| entry(ctx, list)).collect()
}

fn entry(ctx: &Ctx, list: &OwnList) -> ListEntry {
    ListEntry {
        id: list.id.clone(),
        name: list.name.clone(),
        folder: list.folder.clone(),
        version: list.version,
        saved_at: list.saved_at.clone(),
        symbols: list.found.iter().zip(&list.body.members).map(|(found, member)| symbol(ctx, *found, member)).collect(),
    }
}

/// By which a member is asked for.
fn symbol(ctx: &Ctx, found: Option<u32>, member: &Member) -> String {
    found.map_or_else(|| member.company.symbol.clone(), |i| ctx.snapshot().symbol(i).to_owned())
}

/// A list by its id, or its name.
pub(crate) fn list_of<'c>(ctx: &'c Ctx, id: &str) -> Result<&'c OwnList, AppError> {
    let all = &ctx.own.lists;
    let found = all.iter().find(|l| l.id == id).or_else(|| all.iter().find(|l| l.name.eq_ignore_ascii_case(id)));
    found.ok_or_else(|| AppError::Missing { what: "This list".to_owned() })
}
