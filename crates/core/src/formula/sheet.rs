//! Several formulas asked of the same rows: what they share is computed once, and what follows from filings alone is
//! kept with the company until something new is filed.

use super::{
    compile::Compiled,
    env::{Env, Rows},
    eval::{Evaluator, Flag},
    from_filings::FromFilings,
    host::Answers,
    memo::Memo,
    plan::Plan,
};
use crate::{Num, Why, panel::CompanyAt};
use std::sync::Arc;

/// A chunk of rows of which several formulas are asked.
pub struct Sheet<'s, 'a> {
    evaluator: &'s Evaluator<'a>,
    rows: Rows<'s, 'a>,
    memo: Memo,
    filed: Option<Filed>,
}

/// The answers of [`FromFilings`], one list a row.
struct Filed {
    of: &'static FromFilings,
    rows: Vec<Arc<[Num]>>,
}

impl<'a> Answers<'a> for Sheet<'_, 'a> {
    fn rows(&self) -> &[CompanyAt<'a>] {
        self.rows
    }

    fn reporting_numbers(&self, formula: &Compiled) -> Vec<Num> {
        self.filed(formula, |v| v).unwrap_or_else(|| self.evaluator.numbers(&formula.plan, self.rows, self.env(true)))
    }

    fn numbers(&self, formula: &Compiled) -> Vec<Num> {
        if !formula.unit.is_money() && formula.of_filings {
            return self.reporting_numbers(formula); // no currency takes part: the same to the last bit, kept or not
        }
        self.evaluator.numbers(&formula.plan, self.rows, self.env(false))
    }

    fn flags(&self, formula: &Compiled) -> Vec<Flag> {
        let answer = || self.evaluator.flags(&formula.plan, self.rows, self.env(formula.of_filings));
        self.filed(formula, |v| v.map(|v| v > 0.0)).unwrap_or_else(answer)
    }
}

impl Sheet<'_, '_> {
    fn env(&self, reporting: bool) -> Env<'_> {
        Env { memo: Some(&self.memo), reporting, ..Env::default() }
    }

    fn filed<T>(&self, formula: &Compiled, read: impl Fn(Num) -> T) -> Option<Vec<T>> {
        let filed = self.filed.as_ref()?;
        let place = *filed.of.places.get(formula.text.as_str())?;
        Some(filed.rows.iter().map(|figures| read(figures[place])).collect())
    }
}

impl<'a> Evaluator<'a> {
    /// A chunk of rows of which several formulas are asked.
    pub(crate) fn sheet<'s>(&'s self, rows: &'s [CompanyAt<'a>]) -> Sheet<'s, 'a> {
        let one_company = rows.len() > 1 && rows.iter().all(|r| r.index == rows[0].index);
        let memo = if one_company { Memo::of_one_company(rows) } else { Memo::of_many_companies(rows.len()) };
        Sheet { evaluator: self, rows, memo, filed: None }
    }

    /// The same, with what follows from filings alone as it is kept; what is not is computed and kept.
    pub(crate) fn sheet_with<'s>(&'s self, rows: &'s [CompanyAt<'a>], of: &'static FromFilings) -> Sheet<'s, 'a> {
        let host = self.view.host;
        let known = |r: &CompanyAt<'a>| host.filed(of, r.filing_state()?);
        let mut kept: Vec<Option<Arc<[Num]>>> = rows.iter().map(known).collect();
        let missing: Vec<usize> = (0..rows.len()).filter(|i| kept[*i].is_none()).collect();
        if !missing.is_empty() {
            let some: Vec<CompanyAt<'a>> = missing.iter().map(|i| rows[*i]).collect();
            for (i, figures) in missing.into_iter().zip(computed(of, &self.sheet(&some))) {
                if let Some(state) = rows[i].filing_state() {
                    host.keep_filed(of, state, figures.clone());
                }
                kept[i] = Some(figures);
            }
        }
        Sheet { filed: Some(Filed { of, rows: kept.into_iter().flatten().collect() }), ..self.sheet(rows) }
    }

    fn numbers(&self, plan: &Plan, rows: &[CompanyAt<'a>], env: Env<'_>) -> Vec<Num> {
        match plan {
            Plan::Number(p, _) => self.num(p, rows, env),
            _ => vec![Err(Why::NoAnswer); rows.len()],
        }
    }

    fn flags(&self, plan: &Plan, rows: &[CompanyAt<'a>], env: Env<'_>) -> Vec<Flag> {
        match plan {
            Plan::Flag(p) => self.flag(p, rows, env),
            _ => vec![Err(Why::NoAnswer); rows.len()],
        }
    }
}

/// All answers of each row.
fn computed(of: &FromFilings, sheet: &Sheet<'_, '_>) -> Vec<Arc<[Num]>> {
    let column = |f: &&Compiled| match f.plan {
        Plan::Flag(_) => sheet.flags(f).into_iter().map(|v| v.map(|yes| f64::from(u8::from(yes)))).collect(),
        _ => sheet.reporting_numbers(f),
    };
    let columns: Vec<Vec<Num>> = of.formulas.iter().map(column).collect();
    (0..sheet.rows.len()).map(|i| columns.iter().map(|c| c[i]).collect()).collect()
}
