//! Filings, one row in each of three tables.

use super::{
    Only, Sink,
    insert::{Bound, Target, replace},
};
use crate::{
    StoreError,
    schema::{statement_balances, statement_cash_flows, statements},
};
use artemon_core::domain::{Day, Item, Items, Record, Statement};
use diesel::{prelude::*, sqlite::SqliteConnection};

/// The items of one part of a statement as a row: keys, then one nullable column an item.
macro_rules! part {
    ($row:ident, $table:ident, [$($extra:ident: $type:ty),*], { $($column:ident = $item:ident),+ $(,)? }) => {
        #[derive(Queryable)]
        #[allow(dead_code)] // the keys are read from the first part alone
        struct $row {
            company_id: String,
            fiscal_year: i32,
            period: String,
            filed_on: i32,
            $($extra: $type,)*
            $($column: Option<f64>),+
        }

        impl $row {
            fn fill(&self, items: &mut Items) {
                $(items.set(Item::$item, self.$column);)+
            }

            fn write(c: &mut SqliteConnection, s: &Statement, extra: &[Bound<'_>]) -> QueryResult<()> {
                let mut values = Vec::with_capacity(32);
                values.extend([
                    Bound::Text(&s.company_id),
                    Bound::Whole(s.fiscal_year),
                    Bound::Text(s.period.code()),
                    Bound::Whole(s.filed_on.epoch_days()),
                ]);
                values.extend_from_slice(extra);
                values.extend([$(Bound::MaybeNumber(s.items.get(Item::$item))),+]);
                replace::<$row>(c, &values)
            }
        }

        impl Target for $row {
            const TABLE: &'static str = stringify!($table);
            const COLUMNS: &'static str = concat!(
                "company_id,fiscal_year,period,filed_on" $(, ",", stringify!($extra))* $(, ",", stringify!($column))+
            );
        }
    };
}

part!(IncomeRow, statements, [period_end: i32, currency: String, source: String], {
    revenue = Revenue, cost_of_revenue = CostOfRevenue, gross_profit = GrossProfit, research_development =
    ResearchDevelopment, selling_general_admin = SellingGeneralAdmin, operating_income = OperatingIncome,
    depreciation_amortization = DepreciationAmortization, interest_expense = InterestExpense, pretax_income =
    PretaxIncome, income_tax = IncomeTax, net_income = NetIncome, preferred_dividends = PreferredDividends,
    eps_basic = EpsBasic, eps_diluted = EpsDiluted, eps_adjusted = EpsAdjusted, shares_basic = SharesBasic,
    shares_diluted = SharesDiluted
});

part!(BalanceRow, statement_balances, [], {
    cash = Cash, short_term_investments = ShortTermInvestments, receivables = Receivables, inventory = Inventory,
    current_assets = CurrentAssets, fixed_assets = FixedAssets, goodwill = Goodwill, intangibles = Intangibles,
    total_assets = TotalAssets, payables = Payables, short_term_debt = ShortTermDebt, current_liabilities =
    CurrentLiabilities, long_term_debt = LongTermDebt, total_liabilities = TotalLiabilities, preferred_equity =
    PreferredEquity, minority_interest = MinorityInterest, equity = Equity, retained_earnings = RetainedEarnings,
    shares_outstanding = SharesOutstanding
});

part!(CashFlowRow, statement_cash_flows, [], {
    operating_cash_flow = OperatingCashFlow, capital_expenditure = CapitalExpenditure, dividends_paid =
    DividendsPaid, shares_issued = SharesIssued, shares_repurchased = SharesRepurchased, acquisitions =
    Acquisitions, stock_compensation = StockCompensation, debt_issued = DebtIssued, debt_repaid = DebtRepaid,
    net_interest_income = NetInterestIncome, loss_provision = LossProvision, tier1_ratio = Tier1Ratio,
    premiums_earned = PremiumsEarned, combined_ratio = CombinedRatio, funds_from_operations = FundsFromOperations
});

pub(crate) fn write(c: &mut SqliteConnection, filed: &[Statement]) -> QueryResult<()> {
    for s in filed {
        let own = [Bound::Whole(s.period_end.epoch_days()), Bound::Text(s.currency.as_str()), Bound::Text(&s.source)];
        IncomeRow::write(c, s, &own)?;
        BalanceRow::write(c, s, &[])?;
        CashFlowRow::write(c, s, &[])?;
    }
    Ok(())
}

/// The three tables have equal keys in equal order, so one pass over each joins them.
pub(crate) fn read(c: &mut SqliteConnection, only: Only<'_>, sink: &mut Sink<'_>) -> Result<(), StoreError> {
    use statement_balances::dsl as b;
    use statement_cash_flows::dsl as f;
    use statements::dsl as s;
    let income = statements::table.order_by((s::company_id, s::fiscal_year, s::period, s::filed_on)).into_boxed();
    let balances = statement_balances::table.order_by((b::company_id, b::fiscal_year, b::period, b::filed_on)).into_boxed();
    let cash = statement_cash_flows::table.order_by((f::company_id, f::fiscal_year, f::period, f::filed_on)).into_boxed();
    let Some(only) = only else {
        return joined(income.load(c)?, balances.load(c)?, cash.load(c)?, sink);
    };
    let income = income.filter(s::company_id.eq_any(only.companies)).load(c)?;
    let balances = balances.filter(b::company_id.eq_any(only.companies)).load(c)?;
    let cash = cash.filter(f::company_id.eq_any(only.companies)).load(c)?;
    joined(income, balances, cash, sink)
}

fn joined(income: Vec<IncomeRow>, balances: Vec<BalanceRow>, cash: Vec<CashFlowRow>, sink: &mut Sink<'_>) -> Result<(), StoreError> {
    if income.len() != balances.len() || income.len() != cash.len() {
        return Err(StoreError::Damaged { what: "the parts of the statements do not belong together".to_owned() });
    }
    let mut company: std::sync::Arc<str> = "".into();
    for ((i, b), f) in income.into_iter().zip(balances).zip(cash) {
        if *company != *i.company_id {
            company = i.company_id.as_str().into();
        }
        let mut items = Items::default();
        i.fill(&mut items);
        b.fill(&mut items);
        f.fill(&mut items);
        sink(Record::Statement(Box::new(Statement {
            company_id: company.clone(),
            fiscal_year: i.fiscal_year,
            period: super::code(&i.period)?,
            period_end: Day::from_epoch_days(i.period_end),
            filed_on: Day::from_epoch_days(i.filed_on),
            currency: super::code(&i.currency)?,
            source: i.source,
            items,
        })));
    }
    Ok(())
}
