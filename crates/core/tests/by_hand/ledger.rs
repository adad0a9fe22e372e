//! What accounts are worth, what income lies ahead, and how the journal reads.

use crate::world::{World, currency, day};
use artemon_core::{
    engine::Context,
    ledger::{
        Account, AccountKind, At, DayOf, Event, Good, Ledger, LotRule, Order, Recorded, Security, Side, Sureness, What, decimal,
        event_says, income_calendar, worth, years,
    },
};
use rust_decimal::Decimal;

/// A share of XFA at 40, then 50, of which an XFA costs 2 XFC; it paid 1 in August 2023 and declared 1.2 in January 2024, to be paid on
/// 11 February.
fn world() -> World {
    let rates = ["2023-07-01", "2024-01-18", "2024-02-03"];
    let w = rates.iter().fold(World::new(), |w, on| w.fx(on, "XFA", "XFC", 2.0));
    w.price("2023-07-03", 40.0).price("2024-01-19", 50.0).price("2024-02-05", 50.0).dividend("2023-08-10", 1.0).dividend("2024-02-01", 1.2)
}

fn share() -> Security {
    Security::Listed { company: "C".into(), symbol: "SYM".into() }
}

fn bond() -> Security {
    Security::Other { what: "Harbour bond".into() }
}

fn n(x: f64) -> Decimal {
    decimal(x)
}

fn bought(side: Side, security: Security, quantity: f64, price: f64, of: &str, rate: f64) -> What {
    What::Recorded(Recorded {
        side,
        security,
        quantity: n(quantity),
        price: n(price),
        multiplier: Decimal::ONE,
        currency: currency(of),
        rate: n(rate),
        fee: Decimal::ZERO,
        lots: Vec::new(),
    })
}

/// An account of XFC kept by hand, with 1,000 paid in, ten shares and five bonds; and a simulated one with nothing.
fn books(context: &Context) -> Ledger {
    let account = |name: &str, kind| Account { name: name.into(), currency: currency("XFC"), kind, lots: LotRule::default() };
    let mut ledger = Ledger::new([account("Hand", AccountKind::ByHand), account("Sim", AccountKind::Simulated)]);
    let market = context.as_of(day("2023-07-03"));
    for what in [
        What::Deposit { amount: n(1000.0) },
        bought(Side::Buy, share(), 10.0, 40.0, "XFA", 2.0),
        bought(Side::Buy, bond(), 5.0, 20.0, "XFC", 1.0),
    ] {
        ledger.book(market, Event { date: day("2023-07-03"), account: "Hand".into(), what }).unwrap();
    }
    ledger
}

/// Cash: 1,000 − 10 × 40 × 2 − 5 × 20 = 100 XFC, 50 XFA. Shares at 50: 500 XFA. Bonds, of which no price is known, at what they cost:
/// 100 XFC, 50 XFA.
#[test]
fn accounts_are_worth_their_cash_and_what_they_hold() {
    let context = world().context();
    let (held, whole) = worth(&books(&context), context.as_of(day("2024-01-19")));
    let held: Vec<_> = held.iter().map(|h| (&*h.account, h.security.name().to_string(), h.value_base)).collect();
    assert_eq!(held, [("Hand", "SYM".to_owned(), 500.0), ("Hand", "Harbour bond".to_owned(), 50.0)]);
    assert!((whole - 600.0).abs() < 1e-9, "{whole}");
}

/// Before it goes ex the declared dividend is ahead for both accounts that hold it, and the one of August is expected once more; after,
/// a simulated account has it due already, and one kept by hand waits for the payment.
#[test]
fn income_ahead_is_declared_or_expected_once() {
    let context = world().context();
    let mut ledger = books(&context);
    let fill = [
        What::Deposit { amount: n(1000.0) },
        What::Order(Order {
            order: "B1".into(),
            side: Side::Buy,
            security: share(),
            at: At::Market,
            quantity: n(4.0),
            good: Good::Day,
            linked_to: None,
            sell_rule: None,
            lots: Vec::new(),
        }),
        What::Fill { order: "B1".into(), quantity: n(4.0), price: n(40.0), rate: n(2.0), fee: Decimal::ZERO },
    ];
    for what in fill {
        ledger.book(context.as_of(day("2023-07-03")), Event { date: day("2023-07-03"), account: "Sim".into(), what }).unwrap();
    }
    let lines = |t: &str| -> Vec<(String, String, f64, Option<f64>, Sureness)> {
        let all = income_calendar(&ledger, context.as_of(day(t)));
        all.into_iter().map(|l| (l.date.to_string(), l.account.to_string(), l.amount, l.amount_base, l.sureness)).collect()
    };
    let line = |on: &str, account: &str, amount: f64, sureness| (on.to_owned(), account.to_owned(), amount, Some(amount / 2.0), sureness);
    use Sureness::{Declared, Expected};
    // Ten and four shares at 1.2 and 1, in XFC.
    assert_eq!(
        lines("2024-01-19"),
        [
            line("2024-02-11", "Hand", 24.0, Declared),
            line("2024-02-11", "Sim", 9.6, Declared),
            line("2024-08-20", "Hand", 20.0, Expected),
            line("2024-08-20", "Sim", 8.0, Expected),
        ]
    );
    let after: Vec<_> = lines("2024-02-05").into_iter().filter(|l| l.4 == Declared).collect();
    assert_eq!(after, [line("2024-02-11", "Hand", 24.0, Declared)], "what the simulated account is owed is booked as due");
}

#[test]
fn the_journal_reads_as_people_say_it() {
    let context = world().context();
    let mut ledger = books(&context);
    let order = |name: &str, side, at, linked: Option<&str>| {
        What::Order(Order {
            order: name.into(),
            side,
            security: share(),
            at,
            quantity: n(4.0),
            good: Good::UntilCancelled,
            linked_to: linked.map(Into::into),
            sell_rule: None,
            lots: Vec::new(),
        })
    };
    let mut says = |account: &str, what: What| {
        let event = Event { date: day("2024-01-19"), account: account.into(), what };
        event_says(ledger.book(context.as_of(day("2024-01-19")), event).unwrap())
    };
    assert_eq!(says("Sim", What::Deposit { amount: n(2000.0) }), "2,000 paid in");
    assert_eq!(says("Sim", What::Withdrawal { amount: n(500.0) }), "500 taken out");
    assert_eq!(says("Sim", order("B1", Side::Buy, At::Limit(n(41.2)), None)), "Order B1: buy 4 SYM at 41.20");
    let changed = What::OrderChanged { order: "B1".into(), limit: Some(n(42.0)), left: n(3.0), good: Good::Until(day("2024-03-01")) };
    assert_eq!(says("Sim", changed), "Order B1 changed: 3 at 42.00, until 1 Mar 2024");
    let fill = |order: &str, quantity: f64, price: f64| What::Fill {
        order: order.into(),
        quantity: n(quantity),
        price: n(price),
        rate: n(2.0),
        fee: Decimal::ZERO,
    };
    assert_eq!(says("Sim", fill("B1", 3.0, 41.9)), "Bought 3 SYM at 41.90 (B1)");
    assert_eq!(says("Sim", order("S1", Side::Sell, At::Market, Some("B1"))), "Order S1: sell 4 SYM at market, the sell rule of B1");
    assert_eq!(says("Sim", fill("S1", 2.0, 45.0)), "Sold 2 SYM at 45.00 (S1)");
    let cancelled = What::OrderCancelled { order: "S1".into(), left: n(2.0), why: "by hand".to_owned() };
    assert_eq!(says("Sim", cancelled), "Order S1 cancelled: by hand");
    assert_eq!(says("Hand", bought(Side::Sell, share(), 2.5, 50.0, "XFA", 2.0)), "Sold 2.5 SYM at 50.00");
    assert_eq!(says("Hand", What::RecordedIncome { security: bond(), amount: n(12.0) }), "Income from Harbour bond: 12");
    assert_eq!(says("Hand", What::RecordedIncome { security: bond(), amount: n(-3.0) }), "Paid for Harbour bond: 3");
    assert_eq!(says("Hand", What::CapitalReturned { security: bond(), amount: n(10.0) }), "Capital of Harbour bond returned: 10");
    assert_eq!(says("Hand", What::RecordedPrice { security: bond(), price: n(21.5) }), "Harbour bond costs 21.50");
    assert_eq!(says("Hand", What::Split { security: share(), ratio: n(2.0) }), "SYM: 2 for one, 15 held");
}

/// Interest, fees and gains belong to the year of their day, in the base currency: 12 XFC of interest in 2023 are 6 XFA; in 2024, 3 XFC of
/// custody are paid, and of ten shares bought at 80 XFC four are sold at 100 with a fee of 2, which leaves 4 × 20 − 2 = 78.
#[test]
fn years_have_what_happened_in_them() {
    let context = world().context();
    let mut ledger = books(&context);
    let sale = What::Recorded(Recorded {
        fee: n(2.0),
        ..match bought(Side::Sell, share(), 4.0, 50.0, "XFA", 2.0) {
            What::Recorded(trade) => trade,
            other => panic!("{other:?}"),
        }
    });
    for (on, what) in [
        ("2023-07-03", What::RecordedIncome { security: bond(), amount: n(12.0) }),
        ("2024-01-19", What::RecordedIncome { security: bond(), amount: n(-3.0) }),
        ("2024-01-19", sale),
    ] {
        ledger.book(context.as_of(day(on)), Event { date: day(on), account: "Hand".into(), what }).unwrap();
    }
    let days = [day("2023-07-03"), day("2023-12-29"), day("2024-01-19")];
    let found = years(&days, &[DayOf::default(); 3], &[None; 3], ledger.journal());
    let told: Vec<_> = found.iter().map(|y| (y.year, y.realised, y.income, y.fees)).collect();
    assert_eq!(told, [(2023, Some(0.0), Some(6.0), Some(0.0)), (2024, Some(39.0), Some(-1.5), Some(1.0))]);
}
