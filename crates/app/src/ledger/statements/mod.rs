//! Statements of brokers: read, held against the journal, shown, and taken in or back as a whole.

mod alike;
mod differences;
mod events;
mod read;

pub use differences::Difference;
pub use read::StatementMappingAnswer;

use super::{
    books::{booked, kept, kept_account, refused, whole_market},
    landing::{check, land, with},
};
use crate::{AppError, Ctx, figures::compact::six_digits, people::noted};
use artemon_core::{
    domain::{Currency, Day},
    ledger::{AccountKind, Ledger, What, number},
};
use artemon_formats::{
    csv_statement::StatementMapping,
    statement::{LeftOut, Statement, StatementKind, StatementRow},
};
use artemon_store::{KeptAccount, KeptEvent, Landing, NewEvent, NewStatement};
use differences::{differences, settling};
use events::Rates;
use serde::{Deserialize, Serialize};
use std::collections::{BTreeMap, HashMap, HashSet};
use utoipa::ToSchema;

/// Rows shown at most; all are taken.
const SHOWN: usize = 2_000;

/// What is wanted of a statement.
#[derive(Clone, Debug, Default, Deserialize, ToSchema)]
#[serde(deny_unknown_fields, default)]
pub struct AccountStatementRequest {
    /// The id of the account, which is kept by hand.
    pub account: String,
    /// Of a CSV file; what is remembered of its headers, or guessed, when absent.
    pub mapping: Option<StatementMapping>,
    /// Places of rows that are not to be taken.
    pub leave_out: Vec<u64>,
    /// Places of rows that are to be taken although something alike was entered by hand.
    pub take_alike: Vec<u64>,
    /// What is to be made good by an entry so that the journal says what the statement does: keys of differences.
    pub settle: Vec<String>,
    /// Take it in; otherwise it is only shown.
    pub take: bool,
}

/// A statement held against the journal.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct AccountStatement {
    /// By which its keeper knows the account.
    pub account: String,
    pub currency: String,
    /// Of a CSV file: its headers, and how they are understood.
    pub mapping: Option<StatementMappingAnswer>,
    /// In the order of the file, 2,000 at most.
    pub rows: Vec<AccountStatementRow>,
    pub new: usize,
    pub known: usize,
    pub alike: usize,
    pub refused: usize,
    pub left_out: Vec<LeftOut>,
    /// Its last day, where it says what was held or in cash then.
    #[schema(value_type = Option<String>)]
    pub ends_on: Option<Day>,
    /// Where journal and statement differ on that day, once the new rows are in.
    pub differences: Vec<Difference>,
    /// Why nothing of it can be taken.
    pub problem: Option<String>,
    /// The id of the import, once it is taken in.
    pub taken: Option<String>,
}

/// What a row of a statement is to the journal.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum RowState {
    #[allow(missing_docs)]
    New,
    /// It was taken from a statement before.
    Known,
    /// Something alike was entered by hand.
    Alike,
    /// The books do not allow it.
    Refused,
    /// The person does not want it.
    LeftOut,
}

/// A row of a statement; amounts in `currency`.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct AccountStatementRow {
    pub place: u64,
    pub id: String,
    #[schema(value_type = String)]
    pub date: Day,
    pub kind: StatementKind,
    pub what: String,
    /// Its symbol, where the dataset has it.
    pub symbol: Option<String>,
    pub units: Option<f64>,
    pub price: Option<f64>,
    pub total: Option<f64>,
    pub currency: String,
    pub memo: String,
    pub state: RowState,
    /// Why it is refused, or what is odd about it.
    pub says: Option<String>,
}

/// A row with what it becomes in the journal.
struct Planned {
    row: StatementRow,
    events: Vec<What>,
    key: String,
    state: RowState,
    says: Option<String>,
}

/// Reads a statement, holds it against the journal and, if that is wanted, takes in what is new.
///
/// # Errors
/// A file that is no statement; an account that is not there or not kept by hand; when it cannot be written.
pub fn account_statement(ctx: &Ctx, file: &str, bytes: &[u8], request: &AccountStatementRequest) -> Result<AccountStatement, AppError> {
    let account = kept_account(ctx, &request.account)?;
    if account.kind != "by_hand" {
        let problem = "it is simulated: statements belong into accounts that are kept by hand".to_owned();
        return Err(refused(&format!("The account \"{}\"", account.name), problem));
    }
    let (statement, mapping) = read::statement(ctx, bytes, request.mapping.as_ref())?;
    let _one = ctx.home.booking();
    let journal = ctx.home.people.ledger_events(&ctx.person)?;
    let mut rows = planned(ctx, &account, &statement, &journal, request)?;
    let (ledger, problem) = tried(ctx, &account, &mut rows)?;
    let differences = differences(ctx, &account, &statement, &ledger);
    let mut answer = AccountStatement {
        account: statement.account.clone(),
        currency: statement.currency.clone(),
        mapping: mapping.as_ref().map(|m| m.1.clone()),
        new: count(&rows, RowState::New),
        known: count(&rows, RowState::Known),
        alike: count(&rows, RowState::Alike),
        refused: count(&rows, RowState::Refused),
        rows: rows.iter().take(SHOWN).map(|p| row(ctx, p)).collect(),
        left_out: statement.left_out.clone(),
        ends_on: differences::end(&statement),
        differences,
        problem,
        taken: None,
    };
    if request.take {
        if let Some(problem) = answer.problem {
            return Err(AppError::Refused(problem));
        }
        let settled = settling(ctx, &account, &statement, &answer.differences, &request.settle);
        answer.taken = Some(take(ctx, &account, file, &rows, &settled)?);
        if let Some((head, chosen)) = mapping {
            read::remember(ctx, &head, &chosen.mapping)?;
        }
    }
    Ok(answer)
}

fn count(rows: &[Planned], state: RowState) -> usize {
    rows.iter().filter(|p| p.state == state).count()
}

/// Each row with its events, its key, and what it is to the journal so far.
fn planned(
    ctx: &Ctx,
    account: &KeptAccount,
    statement: &Statement,
    journal: &[KeptEvent],
    request: &AccountStatementRequest,
) -> Result<Vec<Planned>, AppError> {
    let known: HashSet<&str> = journal.iter().map(|e| e.key.as_str()).collect();
    let own: Currency = account.currency.parse().map_err(|_| refused("The account", "its currency is not known".to_owned()))?;
    let rates = Rates { ctx, own, positions: &statement.positions };
    let by_hand = alike::by_hand(ctx, account, journal);
    let owner = if statement.account.is_empty() { account.id.as_str() } else { &statement.account };
    let mut seen: HashMap<String, usize> = HashMap::new();
    let newest = whole_market(ctx).t;
    let plan = |row: &StatementRow| {
        let base = if row.id.is_empty() { content(row) } else { row.id.clone() };
        let times = seen.entry(base.clone()).or_default();
        *times += 1;
        let key = if *times > 1 { format!("statement {owner} {base} #{times}") } else { format!("statement {owner} {base}") };
        let (state, events, says) = match events::of(&rates, row) {
            _ if known.contains(key.as_str()) => (RowState::Known, Vec::new(), None),
            _ if request.leave_out.contains(&row.place) => (RowState::LeftOut, Vec::new(), None),
            _ if row.traded_on > newest => (RowState::Refused, Vec::new(), Some(format!("the newest session is {newest}"))),
            Err(problem) => (RowState::Refused, Vec::new(), Some(problem)),
            Ok((events, odd)) => match alike::entered(&by_hand, row.traded_on, &events) {
                Some(n) if !request.take_alike.contains(&row.place) => (RowState::Alike, events, Some(format!("entry {n} says the same"))),
                _ => (RowState::New, events, odd),
            },
        };
        Planned { row: row.clone(), events, key, state, says }
    };
    Ok(statement.rows.iter().map(plan).collect())
}

/// What tells a row from others that has no identifier.
fn content(row: &StatementRow) -> String {
    let s = &row.security;
    let figure = |x: Option<rust_decimal::Decimal>| x.map(|x| x.normalize().to_string()).unwrap_or_default();
    [&row.traded_on.to_string(), row.kind.code(), &s.isin, &s.symbol, &s.name, &figure(row.units), &figure(row.total), &row.memo]
        .join("\u{1f}")
}

/// Books the journal with the new rows: those that the books do not allow are marked as refused, with all that they would have entered,
/// and the others are booked without them. Also why nothing can be taken: an entry of the journal that would not stand any more.
fn tried(ctx: &Ctx, account: &KeptAccount, rows: &mut [Planned]) -> Result<(Ledger, Option<String>), AppError> {
    let accounts = ctx.home.people.accounts(&ctx.person)?;
    let places: BTreeMap<String, usize> = rows.iter().enumerate().map(|(i, p)| (p.key.clone(), i)).collect();
    let of_row = |key: &str| places.get(key.split('\u{1e}').next().unwrap_or(key)).copied();
    loop {
        let (mut problem, mut bad): (Option<String>, Vec<(usize, String)>) = (None, Vec::new());
        let all = with(ctx, &new_events(account, rows))?;
        let ledger = booked_as_far_as_it_goes(ctx, &accounts, &all, |event, why| match of_row(&event.key) {
            Some(row) if rows[row].state == RowState::New => bad.push((row, why)),
            _ => {
                problem.get_or_insert_with(|| format!("With it the entry of {} would not stand any more: {why}.", event.date));
            }
        })?;
        if bad.is_empty() {
            return Ok((ledger, problem));
        }
        for (row, why) in bad {
            (rows[row].state, rows[row].says) = (RowState::Refused, Some(why));
        }
    }
}

/// The books of accounts that are kept by hand, passing over what they do not allow.
fn booked_as_far_as_it_goes(
    ctx: &Ctx,
    accounts: &[KeptAccount],
    events: &[KeptEvent],
    mut refuses: impl FnMut(&KeptEvent, String),
) -> Result<Ledger, AppError> {
    let market = whole_market(ctx);
    let mut ledger = booked(market, accounts, &[], |a| a.kind == AccountKind::ByHand)?;
    let by_id: HashMap<&str, &str> = accounts.iter().filter(|a| a.kind == "by_hand").map(|a| (a.id.as_str(), a.name.as_str())).collect();
    for kept in events {
        let Some(name) = by_id.get(kept.account_id.as_str()) else { continue };
        let event = super::books::event(market, kept, name)?;
        if let Err(why) = ledger.book_as(kept.n.cast_unsigned(), market, event) {
            refuses(kept, why.to_string());
        }
    }
    Ok(ledger)
}

fn new_events(account: &KeptAccount, rows: &[Planned]) -> Vec<NewEvent> {
    let event = |p: &Planned, i: usize, what: &What| {
        let key = if i == 0 { p.key.clone() } else { format!("{}\u{1e}{i}", p.key) };
        kept(&account.id, p.row.traded_on, what, key)
    };
    let of = |p: &Planned| p.events.iter().enumerate().map(|(i, what)| event(p, i, what)).collect::<Vec<_>>();
    rows.iter().filter(|p| p.state == RowState::New).flat_map(of).collect()
}

/// Takes in what is new; gives the id of the import.
fn take(ctx: &Ctx, account: &KeptAccount, file: &str, rows: &[Planned], settled: &[(Day, What)]) -> Result<String, AppError> {
    let mut events = new_events(account, rows);
    let stamp = ctx.home.people.journal_end(&ctx.person)?.0;
    events.extend(settled.iter().enumerate().map(|(i, (day, what))| kept(&account.id, *day, what, format!("settled {stamp} {i}"))));
    if events.is_empty() {
        return Err(AppError::Refused("There is nothing new in it.".to_owned()));
    }
    let import = NewStatement { account_id: account.id.clone(), file: file.chars().take(200).collect() };
    let landed = land(ctx, Landing { events: &events, import: Some(&import), ..Landing::default() })?;
    landed.import.ok_or_else(|| AppError::Missing { what: "The import".to_owned() })
}

fn row(ctx: &Ctx, p: &Planned) -> AccountStatementRow {
    let figure = |x: Option<rust_decimal::Decimal>| x.map(number).map(six_digits);
    let security = events::security(ctx, &p.row.security);
    AccountStatementRow {
        place: p.row.place,
        id: p.row.id.clone(),
        date: p.row.traded_on,
        kind: p.row.kind,
        what: [&p.row.security.name, &p.row.security.symbol, &p.row.security.isin]
            .into_iter()
            .find(|t| !t.is_empty())
            .cloned()
            .unwrap_or_default(),
        symbol: match security {
            Some(artemon_core::ledger::Security::Listed { symbol, .. }) => Some(symbol.to_string()),
            _ => None,
        },
        units: figure(p.row.units),
        price: figure(p.row.price),
        total: figure(p.row.total),
        currency: p.row.currency.clone(),
        memo: p.row.memo.clone(),
        state: p.state,
        says: p.says.clone(),
    }
}

/// A statement that was taken in.
#[derive(Clone, Debug, Serialize, ToSchema)]
#[allow(missing_docs)]
pub struct StatementImport {
    pub id: String,
    /// The name of the account.
    pub account: String,
    pub file: String,
    /// As RFC 3339.
    pub imported_at: String,
    /// Entries of the journal that came from it.
    pub entries: usize,
}

/// The statements that were taken in, newest first.
///
/// # Errors
/// When they cannot be read.
pub fn statement_imports(ctx: &Ctx) -> Result<Vec<StatementImport>, AppError> {
    let accounts = ctx.home.people.accounts(&ctx.person)?;
    let name = |id: &str| accounts.iter().find(|a| a.id == id).map_or_else(String::new, |a| a.name.clone());
    let all = ctx.home.people.statement_imports(&ctx.person)?.into_iter();
    let of = |(i, entries): (artemon_store::KeptStatement, i64)| StatementImport {
        account: name(&i.account_id),
        entries: usize::try_from(entries).unwrap_or_default(),
        id: i.id,
        file: i.file,
        imported_at: i.imported_at,
    };
    Ok(all.map(of).collect())
}

/// Takes a whole import back; what was entered since must stand without it.
///
/// # Errors
/// An import that is not there; entries that need it.
pub fn undo_statement(ctx: &Ctx, id: &str) -> Result<(), AppError> {
    let people = &ctx.home.people;
    let _one = ctx.home.booking();
    let of_it: HashSet<i64> = people.events_of_import(&ctx.person, id)?.into_iter().collect();
    let left: Vec<KeptEvent> = people.ledger_events(&ctx.person)?.into_iter().filter(|e| !of_it.contains(&e.n)).collect();
    check(ctx, &people.accounts(&ctx.person)?, &left)?;
    if !people.remove_import(&ctx.person, id)? {
        return Err(AppError::Missing { what: "The import".to_owned() });
    }
    noted(ctx, "took a statement back", "")
}
