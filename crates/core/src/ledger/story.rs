//! What became of each order.

use super::{
    books::Booked,
    event::{Order, What},
};
use crate::domain::Day;
use rust_decimal::Decimal;
use serde::Serialize;
use std::{collections::HashMap, sync::Arc};

/// Where an order stands.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
#[allow(missing_docs)]
pub enum OrderState {
    Open,
    /// It works on, with a part filled.
    Partly,
    Filled,
    Expired,
    Cancelled,
}

/// An order and what became of it.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct OrderStory {
    #[allow(missing_docs)]
    pub account: Arc<str>,
    /// As it was given; its limit as it is after splits.
    pub order: Order,
    #[allow(missing_docs)]
    pub given_on: Day,
    #[allow(missing_docs)]
    pub state: OrderState,
    /// What was filled, on the basis of the splits since.
    pub filled: Decimal,
    /// Σ quantity × price, in the listing's currency.
    pub paid: Decimal,
    /// What is left, or was when it ended.
    pub left: Decimal,
    /// The day on which it was filled to its end, expired or was cancelled.
    pub ended_on: Option<Day>,
    /// Why it was cancelled.
    pub why: Option<String>,
}

/// All orders of a journal, in the order in which they were given.
#[must_use]
pub fn order_stories(journal: &[Booked]) -> Vec<OrderStory> {
    let mut all: Vec<OrderStory> = Vec::new();
    let mut places: HashMap<Arc<str>, usize> = HashMap::new();
    for booked in journal {
        if let What::Order(order) = &booked.event.what {
            places.insert(order.order.clone(), all.len());
            all.push(given(booked, order));
        } else if let Some(name) = order_of(&booked.event.what)
            && let Some(story) = places.get(name).map(|i| &mut all[*i])
        {
            follow(story, booked);
        }
    }
    all
}

fn given(booked: &Booked, order: &Order) -> OrderStory {
    OrderStory {
        account: booked.event.account.clone(),
        order: order.clone(),
        given_on: booked.event.date,
        state: OrderState::Open,
        filled: Decimal::ZERO,
        paid: Decimal::ZERO,
        left: order.quantity,
        ended_on: None,
        why: None,
    }
}

fn order_of(what: &What) -> Option<&Arc<str>> {
    match what {
        What::Fill { order, .. }
        | What::OrderAdjusted { order, .. }
        | What::OrderChanged { order, .. }
        | What::OrderCancelled { order, .. }
        | What::OrderExpired { order } => Some(order),
        _ => None,
    }
}

fn follow(story: &mut OrderStory, booked: &Booked) {
    let day = booked.event.date;
    match &booked.event.what {
        What::Fill { quantity, price, .. } => {
            story.filled += quantity;
            story.paid += quantity * price;
            story.left -= quantity;
            let whole = story.left.is_zero();
            story.state = if whole { OrderState::Filled } else { OrderState::Partly };
            story.ended_on = whole.then_some(day);
        }
        What::OrderAdjusted { ratio, left, limit, .. } => {
            story.filled *= ratio;
            story.left = *left;
            if let Some(limit) = limit {
                story.order.at = super::event::At::Limit(*limit);
            }
        }
        What::OrderChanged { limit, left, good, .. } => {
            story.order.at = limit.map_or(super::event::At::Market, super::event::At::Limit);
            (story.left, story.order.good) = (*left, *good);
        }
        What::OrderCancelled { left, why, .. } => {
            (story.state, story.ended_on, story.left, story.why) = (OrderState::Cancelled, Some(day), *left, Some(why.clone()));
        }
        _ => (story.state, story.ended_on) = (OrderState::Expired, Some(day)),
    }
}
