//! What companies of the Reach do, and how such a business runs.

use artemon_core::domain::Kind;

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
