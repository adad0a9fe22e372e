//! Who runs a company: names, offices, years.

use crate::{
    character::{Character, Story},
    economy::{FIRST_SESSION, day},
    random::Chance,
};
use artemon_core::domain::{Day, Officer, Record, Role};

const FIRST_NAMES: &[&str] = &[
    "Asta", "Bram", "Cora", "Dagny", "Edric", "Freya", "Gale", "Hanne", "Ivo", "Jory", "Kit", "Linnet", "Maren", "Niall", "Orla", "Per",
    "Quenby", "Runa", "Stellan", "Tove", "Una", "Vidar", "Wren", "Ysolt", "Aldis", "Berend", "Carrow", "Dorrit", "Elsbet", "Fenn",
    "Garrick", "Hester", "Ingram", "Jessamy", "Kell", "Lorne", "Merrit", "Nessa", "Osk", "Petra", "Rowan", "Sunniva", "Tamsin", "Ulric",
    "Verity", "Wystan", "Yrsa", "Zander",
];
const LAST_NAMES: &[&str] = &[
    "Ashdrift",
    "Bellhouse",
    "Coldmarl",
    "Duneholt",
    "Eddystane",
    "Fairlead",
    "Gullack",
    "Hawsepipe",
    "Inlander",
    "Jettyman",
    "Keelby",
    "Longshore",
    "Marrowmast",
    "Netmender",
    "Oarsby",
    "Pilotage",
    "Quayle-Holt",
    "Reefe",
    "Saltmarsh",
    "Tidewell",
    "Undertow",
    "Vanewright",
    "Weatherley",
    "Yardarm",
    "Anchorby",
    "Brinewell",
    "Capstane",
    "Driftwood-Orr",
    "Ebbing",
    "Foreland",
    "Gannet-Rye",
    "Headland",
    "Inchmoor",
    "Kittiwake",
    "Lantern",
    "Millrace",
    "Northlight",
    "Overfall",
    "Petrelsen",
    "Quarterdeck",
    "Rockpool",
    "Sandbar",
    "Thwaite-Noll",
    "Umberly",
    "Vesperine",
    "Windlass",
    "Yawl",
    "Cutwater",
    "Marlinspike",
    "Shingle",
    "Tallow",
    "Ropewalk",
];

/// Someone with an office.
#[derive(Debug)]
pub(crate) struct Person {
    pub(crate) id: String,
    pub(crate) name: String,
    pub(crate) role: Role,
    /// In words, where the dataset has no code for it.
    office: Option<&'static str>,
    pub(crate) since: Day,
    pub(crate) until: Option<Day>,
    birth_year: i32,
    /// Shares held at first, and as trades go on.
    pub(crate) holding: f64,
}

impl Person {
    pub(crate) fn in_office(&self, on: Day) -> bool {
        self.since <= on && self.until.is_none_or(|d| on < d)
    }

    pub(crate) fn officer(&self, c: &Character) -> Record {
        Record::Officer(Officer {
            company_id: c.id.clone(),
            name: self.name.clone(),
            role: self.office.unwrap_or(self.role.code()).to_owned(),
            since: Some(self.since),
            until: self.until,
            birth_year: Some(self.birth_year),
        })
    }
}

/// Everybody who held an office, from the first session on; chiefs follow one another.
pub(crate) fn all(c: &Character) -> Vec<Person> {
    let mut x = Chance::new(c.seed, c.index, 62);
    let offices: [(Role, Option<&str>, f64); 6] = [
        (Role::ChiefExecutive, None, 6.0),
        (Role::ChiefFinancial, None, 7.0),
        (Role::Officer, Some("chief of works"), 9.0),
        (Role::Director, Some("chair"), 8.0),
        (Role::Director, None, 9.0),
        (Role::ControllingHolder, None, 60.0),
    ];
    let mut out = Vec::new();
    for (role, office, years) in offices.into_iter().filter(|o| o.0 != Role::ControllingHolder || c.family) {
        let founder = c.family && role == Role::ChiefExecutive;
        let years = if founder { 22.0 } else { years };
        let mut since = day(FIRST_SESSION).plus_days(-days(x.between(0.2, years)));
        while since < crate::World::end_of_feed() {
            let until = since.plus_days(days(years * x.between(0.45, 1.9)));
            let until = if c.story == Some(Story::Steady) && role == Role::ChiefExecutive { Day::MAX } else { until };
            let holding = x.between(5_000.0, 90_000.0) * if role == Role::ControllingHolder { 25.0 } else { 1.0 };
            out.push(Person {
                id: format!("{}-{}", c.id, out.len()),
                name: name(&mut x),
                role,
                office,
                since,
                until: (until < crate::World::end_of_feed()).then_some(until),
                birth_year: since.year() - 38 - i32::try_from(x.below(20)).unwrap_or(0),
                holding: holding.round(),
            });
            since = until;
        }
    }
    out
}

fn name(x: &mut Chance) -> String {
    format!("{} {}", FIRST_NAMES[x.below(FIRST_NAMES.len())], surname(x))
}

pub(crate) fn surname(x: &mut Chance) -> &'static str {
    LAST_NAMES[x.below(LAST_NAMES.len())]
}

#[allow(clippy::cast_possible_truncation)]
fn days(years: f64) -> i32 {
    (years * 365.25) as i32
}
