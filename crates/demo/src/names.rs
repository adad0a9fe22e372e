//! Invented names that fit a sea-trading federation and belong to nobody.

use crate::{people::surname, random::Chance, stories::CAST};
use artemon_core::domain::Kind;
use std::collections::HashSet;

/// An industry: its sector, what its companies call themselves and what they do.
#[derive(Clone, Copy, Debug)]
pub(crate) struct Industry {
    pub(crate) sector: &'static str,
    pub(crate) name: &'static str,
    pub(crate) kind: Kind,
    pub(crate) nouns: &'static [&'static str],
    pub(crate) does: &'static str,
    /// How strongly its sales follow the business cycle.
    pub(crate) cyclicality: f64,
    /// Usual gross margin.
    pub(crate) gross_margin: f64,
    /// Weight in the number of companies.
    pub(crate) weight: usize,
}

const fn industry(
    sector: &'static str,
    name: &'static str,
    nouns: &'static [&'static str],
    does: &'static str,
    cyclicality: f64,
    gross_margin: f64,
    weight: usize,
) -> Industry {
    Industry { sector, name, kind: Kind::Operating, nouns, does, cyclicality, gross_margin, weight }
}

const fn of_kind(kind: Kind, i: Industry) -> Industry {
    Industry { kind, ..i }
}

pub(crate) const INDUSTRIES: &[Industry] = &[
    industry(
        "Transport",
        "Ferry lines",
        &["Ferries", "Ferry Line", "Passage"],
        "Runs ferries between the islands and the mainland ports",
        1.2,
        0.34,
        4,
    ),
    industry(
        "Transport",
        "Lighterage and towage",
        &["Tugs", "Lighterage", "Towage"],
        "Tows and lightens ships in the harbours",
        1.3,
        0.36,
        3,
    ),
    industry("Transport", "Cold haulage", &["Cold Haulage", "Carriers"], "Carries fish and fruit under ice by road and rail", 0.7, 0.30, 3),
    industry(
        "Industrials",
        "Marine equipment",
        &["Ropeworks", "Chainmakers", "Anchor Works"],
        "Makes mooring lines, nets and fittings for harbours and offshore farms",
        0.9,
        0.38,
        5,
    ),
    industry("Industrials", "Cable laying", &["Cable Layers", "Cableworks"], "Lays and mends cables on the sea floor", 1.1, 0.33, 3),
    industry(
        "Industrials",
        "Dredging and piling",
        &["Dredging", "Piling", "Breakwaters"],
        "Keeps fairways deep and builds quays",
        1.4,
        0.25,
        4,
    ),
    industry(
        "Industrials",
        "Weather instruments",
        &["Weather Instruments", "Barometers"],
        "Makes gauges and buoys that report wind, pressure and swell",
        0.6,
        0.52,
        3,
    ),
    industry("Materials", "Glassworks", &["Glass", "Glassworks"], "Melts sheet and lamp glass", 1.2, 0.31, 4),
    industry(
        "Materials",
        "Salt and lime",
        &["Saltworks", "Lime Kilns"],
        "Makes salt, lime and soda from sea water and chalk",
        0.9,
        0.35,
        3,
    ),
    industry("Materials", "Timber", &["Timber", "Sawmills"], "Grows and saws larch and spruce for yards and houses", 1.5, 0.24, 3),
    industry("Energy", "Lamp oil", &["Lamp Oil", "Oil Press"], "Presses and refines lamp and heating oil", 0.5, 0.27, 4),
    industry("Energy", "Tide mills", &["Tide Mills", "Tidal Power"], "Turns tides into current for towns and works", 0.3, 0.48, 4),
    industry("Food", "Kelp foods", &["Kelp Foods", "Sea Larder"], "Farms, dries and packs kelp and sea vegetables", 0.3, 0.37, 4),
    industry("Food", "Fisheries", &["Fisheries", "Smokehouse"], "Catches, cures and sells fish", 0.5, 0.26, 4),
    industry("Food", "Brewing", &["Brewing", "Maltings"], "Brews ale and makes malt", 0.3, 0.46, 3),
    industry(
        "Consumer Goods",
        "Oilskins and boots",
        &["Oilskins", "Bootmakers"],
        "Makes clothing for people who work at sea",
        0.9,
        0.44,
        4,
    ),
    industry("Consumer Goods", "Stoves and lamps", &["Stoves", "Lanterns"], "Makes stoves and lamps for homes and cabins", 1.1, 0.40, 3),
    industry(
        "Consumer Goods",
        "Chandlers",
        &["Chandlers", "General Stores"],
        "Keeps shops for everything a household or a boat needs",
        0.6,
        0.29,
        4,
    ),
    industry("Health", "Apothecaries", &["Apothecaries", "Remedies"], "Makes and sells medicines", 0.2, 0.58, 4),
    industry("Health", "Surgical instruments", &["Surgical", "Lancets"], "Makes instruments for surgeons and dentists", 0.3, 0.61, 3),
    industry(
        "Technology",
        "Chart printers",
        &["Chart Printers", "Soundings"],
        "Surveys the sea floor and sells charts, on paper and as data",
        0.6,
        0.60,
        4,
    ),
    industry("Technology", "Signal works", &["Signal Works", "Beacons"], "Makes signalling and positioning gear", 1.0, 0.50, 4),
    industry(
        "Technology",
        "Reckoning engines",
        &["Reckoners", "Tabulators"],
        "Builds and rents out machines and software that reckon freight and tides",
        0.8,
        0.63,
        4,
    ),
    industry(
        "Communications",
        "Packet post",
        &["Packet Post", "Couriers"],
        "Carries letters and parcels between all three states",
        0.6,
        0.35,
        3,
    ),
    industry("Communications", "Printing houses", &["Gazette", "Press"], "Prints and sells newspapers and almanacs", 0.8, 0.47, 3),
    industry("Transport", "Pilot schools", &["Pilot Schools", "Navigation School"], "Trains pilots, mates and engineers", 0.4, 0.49, 3),
    of_kind(
        Kind::Bank,
        industry(
            "Finance",
            "Banks",
            &["Bank", "Savings Bank", "Merchant Bank"],
            "Takes deposits and lends to shipowners, farmers and households",
            0.9,
            1.0,
            5,
        ),
    ),
    of_kind(
        Kind::Insurer,
        industry("Finance", "Salvage insurers", &["Salvage Insurance", "Mutual Assurance"], "Insures hulls, cargo and houses", 0.4, 1.0, 3),
    ),
    of_kind(
        Kind::Holding,
        industry("Finance", "Holdings", &["Holdings", "Partners"], "Holds stakes in yards, mills and lines", 0.8, 1.0, 2),
    ),
    of_kind(Kind::Fund, industry("Finance", "Funds", &["Investment Trust"], "Holds shares of many companies for its owners", 0.8, 1.0, 1)),
    of_kind(
        Kind::Property,
        industry(
            "Property",
            "Harbour property",
            &["Harbour Property", "Warehouses", "Quays"],
            "Owns and lets quays, warehouses and houses",
            0.5,
            0.68,
            5,
        ),
    ),
];

/// A company's name, symbol and industry.
#[derive(Clone, Debug)]
pub(crate) struct Name {
    pub(crate) name: String,
    pub(crate) symbol: String,
    pub(crate) industry: usize,
}

const HEADS: &[&str] = &[
    "Quill", "Tarn", "Ebb", "Brack", "Hollin", "Sandle", "Merrin", "Dunmar", "Corran", "Vantry", "Dornel", "Pellow", "Wrack", "Oster",
    "Sever", "Garron", "Lomar", "Thorle", "Kester", "Averil", "Brindle", "Caldra", "Fenner", "Hawse", "Issel", "Kelmar", "Larra",
    "Maunder", "Nether", "Orlan", "Penha", "Raven", "Skell", "Tamber", "Ulver", "Varra", "Whinny", "Yarrow", "Zellan", "Amber", "Bolter",
    "Creek", "Dallow", "Ester", "Flint", "Gorse", "Heather", "Inker", "Juniper", "Knoll", "Lichen", "Morra", "Norrin",
];
const TAILS: &[&str] = &[
    "wick", "mere", "holt", "stead", "water", "haven", "strand", "combe", "garth", "hithe", "reach", "ness", "sund", "croft", "thorpe",
    "bourne", "moor", "fell", "gate", "rock", "barrow", "staithe", "scar", "lode", "wyke", "hurst", "den", "low", "rigg", "firth",
];

/// Names for so many companies, no two alike, with symbols of three or four letters.
pub(crate) fn all(count: usize, seed: u64) -> Vec<Name> {
    let mut chance = Chance::new(seed, 0, 77);
    let turns: Vec<usize> = INDUSTRIES.iter().enumerate().flat_map(|(i, x)| vec![i; x.weight]).collect();
    let (mut names, mut symbols) = (HashSet::new(), HashSet::new());
    let mut out = Vec::with_capacity(count);
    for part in CAST.iter().take(count) {
        let industry = INDUSTRIES.iter().position(|i| i.name == part.industry).unwrap_or(0);
        names.insert(part.name.to_owned());
        symbols.insert(part.symbol.to_owned());
        out.push(Name { name: part.name.to_owned(), symbol: part.symbol.to_owned(), industry });
    }
    for i in out.len()..count {
        let industry = turns[(i * 7 + i / turns.len()) % turns.len()];
        out.push(loop {
            let name = one(&mut chance, industry, i);
            if names.insert(name.clone()) {
                let symbol = symbol(&name, &mut symbols, &mut chance);
                break Name { name, symbol, industry };
            }
        });
    }
    out
}

fn one(chance: &mut Chance, industry: usize, i: usize) -> String {
    let nouns = INDUSTRIES[industry].nouns;
    let noun = nouns[chance.below(nouns.len())];
    let place = |chance: &mut Chance| format!("{}{}", HEADS[chance.below(HEADS.len())], TAILS[chance.below(TAILS.len())]);
    // Only very large worlds need double names.
    if i > 4000 {
        return format!("{} & {} {noun}", place(chance), place(chance));
    }
    match chance.below(12) {
        0 => format!("{} & {} {noun}", surname(chance), ["Sons", "Daughters", "Partners"][chance.below(3)]),
        1 => format!("{} {} {noun}", ["Old", "New", "Upper", "Great", "Royal"][chance.below(5)], place(chance)),
        _ => format!("{} {noun}", place(chance)),
    }
}

/// Symbols of one length that are tried.
const ATTEMPTS: usize = 1_000;

fn symbol(name: &str, taken: &mut HashSet<String>, chance: &mut Chance) -> String {
    let words: Vec<&str> = name.split_whitespace().filter(|w| *w != "&").collect();
    let initials: String = words.iter().skip(1).filter_map(|w| w.chars().next()).collect();
    let head: Vec<char> = words[0].to_uppercase().chars().collect();
    let first = format!("{}{}{}", head[0], head[head.len() / 2], initials.to_uppercase());
    let first = if first.len() < 3 { format!("{}{}", first, head[head.len() - 1]) } else { first };
    if taken.insert(first.clone()) {
        return first;
    }
    // Two letters more do for thousands of companies; tens of thousands need longer symbols.
    let mut attempts = 0;
    loop {
        let letters: String =
            (0..2 + attempts / ATTEMPTS).map(|_| char::from(b'A' + u8::try_from(chance.below(26)).unwrap_or(0))).collect();
        attempts += 1;
        let next = format!("{}{}{letters}", head[0], head[1]);
        if taken.insert(next.clone()) {
            return next;
        }
    }
}
