//! What holds of every ledger, whatever is entered: random accounts and orders on a small demo world.

use super::{context, records};
use artemon_core::{
    domain::{Action, Day, Record},
    engine::Context,
    index_levels::index_levels,
    ledger::{
        Account, AccountKind, Booked, Event, Ledger, LedgerDocument, LotRule, Recorded, Security, Side, Sureness, What, corrections,
        income_calendar, number, reports,
    },
};
use artemon_demo::World;
use artemon_sim::{broker::Broker, replay::worked};
use rand::{RngExt, SeedableRng, seq::IndexedRandom};
use rand_chacha::ChaCha8Rng;
use rust_decimal::Decimal;
use serde_json::{Value as Json, json};
use std::collections::{BTreeMap, HashMap};

const SEEDS: u64 = 16;
const FROM: &str = "2012-01-10";
const TO: &str = "2015-12-30";

/// Two simulated accounts and 80 entries: deposits, withdrawals, and orders of every sort in companies that were listed then.
fn document(context: &Context, seed: u64) -> LedgerDocument<Broker> {
    let mut rng = ChaCha8Rng::seed_from_u64(seed);
    let from: Day = FROM.parse().unwrap();
    let symbols: Vec<&str> = context.as_of(from).universe().iter().map(|c| c.symbol()).collect();
    let accounts = ["One", "Two"];
    let mut entries: Vec<Json> = accounts.iter().map(|a| json!({"date": FROM, "account": a, "do": "deposit", "amount": 500_000})).collect();
    let mut days: Vec<i32> = (0..80).map(|_| rng.random_range(1..1_300)).collect();
    days.sort_unstable();
    for (n, days) in days.into_iter().enumerate() {
        let day = from.plus_days(days);
        let (account, symbol) = (*accounts.choose(&mut rng).unwrap(), *symbols.choose(&mut rng).unwrap());
        let row = context.as_of(day).company(context.snapshot().find(symbol).unwrap());
        let price = row.price().unwrap() * rng.random_range(0.7..1.3);
        let good = if rng.random() { json!("until_cancelled") } else { json!(day.plus_days(rng.random_range(1..200))) };
        let of = json!({"date": day, "account": account, "order": format!("o{n}"), "symbol": symbol, "good": good});
        let also = match rng.random_range(0..10) {
            0 => json!({"do": "deposit", "amount": rng.random_range(1_000..90_000)}),
            1 => json!({"do": "buy", "at": "market", "quantity": rng.random_range(1..2_000), "good": "day"}),
            2..=5 => {
                json!({"do": "buy", "limit": price, "amount": rng.random_range(5_000..90_000), "sell_rule": {"gain": rng.random_range(0.02..0.4)}})
            }
            6..=7 => json!({"do": "sell", "at": "market", "quantity": rng.random_range(1..500)}),
            _ => json!({"do": "sell", "limit": price, "quantity": rng.random_range(1..500)}),
        };
        let mut entry = of.as_object().unwrap().clone();
        entry.extend(also.as_object().unwrap().clone());
        entries.push(entry.into());
    }
    let lots = if seed.is_multiple_of(2) { "average" } else { "first_in_first_out" };
    let account =
        |name: &&str| json!({"name": name, "currency": if *name == "One" { "ZOC" } else { "ZVD" }, "kind": "simulated", "lots": lots});
    let accounts: Vec<Json> = accounts.iter().map(account).collect();
    serde_json::from_value(json!({"base": "ZOC", "accounts": accounts, "to": TO, "entries": entries})).unwrap()
}

/// All ledgers of the test, on the whole world.
fn each(mut look: impl FnMut(&Context, &LedgerDocument<Broker>, &Ledger)) {
    let context = context(records().iter());
    for seed in 0..SEEDS {
        let document = document(&context, seed);
        let ledger = worked(&context, &document).unwrap();
        look(&context, &document, &ledger);
    }
}

/// Cash is what was paid in, less what was bought with its fees, and what was sold and received; what is held is what was bought, less
/// what was sold, through splits; and the books' own sums are those of the journal.
#[test]
fn cash_and_shares_are_conserved() {
    let mut seen: BTreeMap<&str, usize> = BTreeMap::new();
    each(|_, _, ledger| {
        for books in ledger.accounts() {
            let (mut cash, mut held) = (Decimal::ZERO, HashMap::new());
            for booked in ledger.journal().iter().filter(|b| b.event.account == books.account.name) {
                let (event, moved) = moves(booked, &mut held);
                *seen.entry(event).or_default() += 1;
                cash += moved;
                assert!(cash >= Decimal::ZERO, "no overdraft: {booked:?}");
                assert!(booked.effect.cash.is_none_or(|told| told == cash), "{booked:?}: {cash}");
            }
            held.retain(|_, quantity: &mut Decimal| !quantity.is_zero());
            assert_eq!(cash, books.cash);
            let positions: HashMap<_, _> = books.positions.values().map(|p| (p.security.key().clone(), p.quantity())).collect();
            assert_eq!(held, positions);
        }
    });
    let rare: Vec<_> = ["buy", "sell", "dividend", "split", "delisted"].into_iter().filter(|e| !seen.contains_key(e)).collect();
    assert!(rare.is_empty(), "never seen: {rare:?} of {seen:?}");
}

/// What an event moves in cash; what is held changes with it.
fn moves(booked: &Booked, held: &mut HashMap<std::sync::Arc<str>, Decimal>) -> (&'static str, Decimal) {
    let of = |security: &Security| security.key().clone();
    match &booked.event.what {
        What::Deposit { amount } => ("deposit", *amount),
        What::Withdrawal { amount } => ("withdrawal", -amount),
        What::Fill { quantity, price, rate, fee, .. } => {
            let (side, security) = booked.effect.filled.as_ref().unwrap();
            let (event, sign) = if *side == Side::Buy { ("buy", Decimal::ONE) } else { ("sell", -Decimal::ONE) };
            *held.entry(of(security)).or_default() += sign * quantity;
            assert!(held[security.key()] >= Decimal::ZERO, "nothing is sold that is not held: {booked:?}");
            (event, -sign * quantity * price * rate - fee)
        }
        What::Split { security, ratio } => {
            *held.entry(of(security)).or_default() *= ratio;
            ("split", Decimal::ZERO)
        }
        What::DividendPaid { amount, rate, .. } => ("dividend", amount * rate),
        What::Delisted { security, price, rate } => {
            ("delisted", held.insert(of(security), Decimal::ZERO).unwrap_or_default() * price * rate)
        }
        _ => ("other", Decimal::ZERO),
    }
}

/// The journal booked again from nothing gives the same books, to the last digit.
#[test]
fn the_journal_read_again_gives_the_same_books() {
    each(|context, document, ledger| {
        let mut again = Ledger::new(document.accounts.iter().cloned());
        for booked in ledger.journal() {
            again.book(context.as_of(document.to), booked.event.clone()).unwrap();
        }
        assert!(again == *ledger);
    });
}

/// A session is filled from its own bar and what was known before it: the ledger of a dataset that ends on a day is that of the whole
/// dataset up to it. Fills lie within the bar, and all of a session take no more than a tenth of its volume.
#[test]
fn fills_know_nothing_of_later_sessions() {
    let whole = context(records().iter());
    let t: Day = "2014-03-12".parse().unwrap();
    let known: Vec<Record> = records().iter().filter(|r| r.known_on().is_none_or(|d| d <= t)).cloned().collect();
    let cut = context(known.iter());
    for seed in 0..SEEDS {
        let document = document(&whole, seed);
        let ledger = worked(&whole, &document).unwrap();
        let then = LedgerDocument { to: t, ..document };
        // Whether the next session comes after an order's last day is not known on the last day.
        let before = |ledger: &Ledger| ledger.journal().iter().filter(|b| b.event.date < t).cloned().collect::<Vec<_>>();
        assert!(before(&worked(&cut, &then).unwrap()) == before(&ledger), "seed {seed}");
        fills_lie_within_their_bars(&whole, &ledger);
    }
}

fn fills_lie_within_their_bars(context: &Context, ledger: &Ledger) {
    let mut taken: HashMap<(std::sync::Arc<str>, Day), f64> = HashMap::new();
    for booked in ledger.journal() {
        let (What::Fill { quantity, price, .. }, Some((_, security))) = (&booked.event.what, &booked.effect.filled) else { continue };
        let day = booked.event.date;
        let bars = context.as_of(day).company(context.snapshot().find(security.key()).unwrap()).bars();
        let last = bars.len() - 1;
        assert_eq!(bars.last_date(), Some(day), "{booked:?}");
        let (price, spread) = (number(*price), 1.0006);
        assert!(price <= bars.high(last) * spread && price >= bars.low(last) / spread, "{booked:?}");
        let all = taken.entry((security.key().clone(), day)).or_default();
        *all += number(*quantity);
        assert!(*all <= 0.1 * bars.volume(last) + 1.0, "{booked:?}");
    }
    assert!(!taken.is_empty());
}

/// In every report: gain = realised + unrealised + income, value = cash + holdings, lots add up to their holding, and in the base currency
/// the gain on cash is what remains.
#[test]
fn the_accounts_add_up() {
    let days: Vec<Day> = ["2012-06-30", "2013-12-31", "2015-02-01", TO].iter().map(|d| d.parse().unwrap()).collect();
    each(|context, document, ledger| {
        let index = |days: &[Day]| index_levels(context, context.snapshot().indexes().next()?.0, days);
        let all = reports(ledger, context.as_of(document.to), &days, index);
        assert_eq!(all.len(), days.len());
        for a in all.iter().flat_map(|r| &r.accounts) {
            let near = |x: f64, y: f64| assert!((x - y).abs() < 1e-6 * a.value.max(1.0), "{x} {y} in {a:?}");
            near(a.gain, a.realised + a.unrealised + a.income);
            near(a.value, a.cash + a.holdings.iter().map(|h| h.value).sum::<f64>());
            for h in &a.holdings {
                near(h.quantity, h.lots.iter().map(|l| l.quantity).sum());
                near(h.cost, h.lots.iter().map(|l| l.cost).sum());
                assert!(h.index_value_base.unwrap() > 0.0);
            }
            if a.currency == World::base_currency() {
                near(a.currency_gain_on_cash_base.unwrap(), 0.0);
            }
            assert!(a.time_weighted_return.unwrap() > -1.0 && a.xirr.is_some());
        }
    });
}

/// Nothing is corrected on the data that were worked on; when all dividends become a tenth larger, each that went ex says so and nothing
/// else does.
#[test]
fn what_was_booked_on_other_data_says_so() {
    let dearer = |r: &Record| match r {
        Record::Action(a) if a.amount.is_some() => Record::Action(Action { amount: a.amount.map(|x| x * 1.1), ..a.clone() }),
        other => other.clone(),
    };
    let dearer: Vec<Record> = records().iter().map(dearer).collect();
    let changed = context(dearer.iter());
    let mut told = 0;
    each(|context, document, ledger| {
        let to = document.to;
        assert_eq!(corrections(ledger, context.as_of(to)), []);
        let due = ledger.journal().iter().filter(|b| matches!(b.event.what, What::DividendDue { .. })).map(|b| b.n);
        let says: Vec<u64> = corrections(ledger, changed.as_of(to)).into_iter().map(|c| c.n).collect();
        assert_eq!(says, due.collect::<Vec<_>>());
        told += says.len();
    });
    assert!(told > 20, "{told}");
}

/// Bought under one symbol and sold under another, the company's shares are one position.
#[test]
fn a_change_of_symbol_changes_nothing() {
    let context = context(records().iter());
    let market = context.as_of(TO.parse().unwrap());
    let company = market.universe()[0].company().id.clone();
    let named = |symbol: &str| Security::Listed { company: company.clone(), symbol: symbol.into() };
    let account = Account { name: "Home".into(), currency: "ZOC".parse().unwrap(), kind: AccountKind::ByHand, lots: LotRule::default() };
    let mut ledger = Ledger::new([account]);
    let trade = |side, symbol: &str, quantity: i64, price: i64| Recorded {
        side,
        security: named(symbol),
        quantity: quantity.into(),
        price: price.into(),
        multiplier: Decimal::ONE,
        currency: "ZOC".parse().unwrap(),
        rate: Decimal::ONE,
        fee: Decimal::ZERO,
        lots: Vec::new(),
    };
    let all = [("2012-02-01", trade(Side::Buy, "OLD", 10, 20)), ("2013-02-01", trade(Side::Sell, "NEW", 10, 30))];
    for (day, trade) in all {
        let event = Event { date: day.parse().unwrap(), account: "Home".into(), what: What::Recorded(trade) };
        ledger.book(market, event).unwrap();
    }
    let books = ledger.account("Home").unwrap();
    assert!(books.positions.is_empty());
    assert_eq!(books.realised.own, Decimal::from(100));
}

/// What the calendar says was received is the income of the books; what lies ahead is of what is held, or was when it went ex, and no
/// more than a year and its payment away. Some of it is to be expected.
#[test]
fn the_calendar_of_income_has_all_of_it() {
    let mut expected = 0;
    each(|context, document, ledger| {
        let to = document.to;
        let lines = income_calendar(ledger, context.as_of(to));
        for books in ledger.accounts() {
            let of = || lines.iter().filter(|l| l.account == books.account.name);
            let received: f64 = of().filter(|l| l.sureness == Sureness::Received).map(|l| l.amount).sum();
            assert!((received - number(books.income.own)).abs() < 1e-6, "{received} {}", books.income.own);
            for line in of().filter(|l| l.sureness != Sureness::Received) {
                let key = line.security.key();
                assert!(books.positions.contains_key(key) || books.due.iter().any(|d| d.security.key() == key));
                assert!(line.date > to.plus_days(-10) && line.date < to.plus_months(16) && line.amount > 0.0, "{line:?}");
            }
        }
        expected += lines.iter().filter(|l| l.sureness == Sureness::Expected).count();
    });
    assert!(expected > 20, "{expected}");
}
