//! Several formulas asked of the same rows: what they share is computed once, and what follows from filings alone is
//! kept with the company until something new is filed.

use super::{
    check::Compiled,
    eval::{Env, Evaluator, Flag},
    memo::Memo,
    plan::Plan,
};
use crate::{
    Num, Why,
    panel::{CompanyAt, Settings},
};
use rustc_hash::FxHashMap;
use std::sync::Arc;

/// A chunk of rows of which several formulas are asked.
pub(crate) struct Sheet<'s, 'a> {
    evaluator: &'s Evaluator<'a>,
    pub(crate) rows: &'s [CompanyAt<'a>],
    memo: Memo,
    filed: Option<Filed>,
}

/// The answers of [`FromFilings`], one list a row.
struct Filed {
    of: &'static FromFilings,
    rows: Vec<Arc<[Num]>>,
}

impl Sheet<'_, '_> {
    /// Answers a number formula; amounts in the reporting currency.
    pub(crate) fn reporting_numbers(&self, formula: &Compiled) -> Vec<Num> {
        self.filed(formula, |v| v).unwrap_or_else(|| self.evaluator.numbers(&formula.plan, self.rows, self.env(true)))
    }

    /// Answers a number formula.
    pub(crate) fn numbers(&self, formula: &Compiled) -> Vec<Num> {
        if !formula.unit.is_money() && formula.of_filings {
            return self.reporting_numbers(formula); // no currency takes part: the same to the last bit, kept or not
        }
        self.evaluator.numbers(&formula.plan, self.rows, self.env(false))
    }

    /// Answers a condition.
    pub(crate) fn flags(&self, formula: &Compiled) -> Vec<Flag> {
        let answer = || self.evaluator.flags(&formula.plan, self.rows, self.env(formula.of_filings));
        self.filed(formula, |v| v.map(|v| v > 0.0)).unwrap_or_else(answer)
    }

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
        let key = of.key(self.settings());
        let mut kept: Vec<Option<Arc<[Num]>>> = rows.iter().map(|r| r.kept_of_filings(key)).collect();
        let missing: Vec<usize> = (0..rows.len()).filter(|i| kept[*i].is_none()).collect();
        if !missing.is_empty() {
            let some: Vec<CompanyAt<'a>> = missing.iter().map(|i| rows[*i]).collect();
            for (i, figures) in missing.into_iter().zip(of.computed(&self.sheet(&some))) {
                rows[i].keep_of_filings(key, figures.clone());
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

/// Formulas of the product's own that follow from a company's filings alone: no price, no rate, no other company, no
/// other date takes part. Between two filings their answers stay, amounts being in the reporting currency.
pub(crate) struct FromFilings {
    formulas: Vec<&'static Compiled>,
    places: FxHashMap<&'static str, usize>,
}

impl FromFilings {
    /// Those among some formulas.
    pub(crate) fn among(all: impl IntoIterator<Item = &'static Compiled>) -> FromFilings {
        let mut out = FromFilings { formulas: Vec::new(), places: FxHashMap::default() };
        for formula in all.into_iter().filter(|f| f.of_filings) {
            let next = out.formulas.len();
            if *out.places.entry(&formula.text).or_insert(next) == next {
                out.formulas.push(formula);
            }
        }
        out
    }

    /// What of the settings takes part.
    fn key(&self, settings: &Settings) -> u64 {
        settings.assumptions.tax_rate.to_bits()
    }

    fn computed(&self, sheet: &Sheet<'_, '_>) -> Vec<Arc<[Num]>> {
        let column = |f: &&Compiled| match f.plan {
            Plan::Flag(_) => sheet.flags(f).into_iter().map(|v| v.map(|yes| f64::from(u8::from(yes)))).collect(),
            _ => sheet.reporting_numbers(f),
        };
        let columns: Vec<Vec<Num>> = self.formulas.iter().map(column).collect();
        (0..sheet.rows.len()).map(|i| columns.iter().map(|c| c[i]).collect()).collect()
    }
}
