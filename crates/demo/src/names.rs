//! Invented names that fit a sea-trading federation and belong to nobody.

use crate::{industries::INDUSTRIES, people::surname, random::Chance, stories::CAST};
use std::collections::HashSet;

/// A company's name, symbol and industry.
#[derive(Clone, Debug)]
pub(crate) struct Name {
    pub(crate) name: String,
    pub(crate) symbol: String,
    pub(crate) industry: usize,
}

const HEADS: &[&str] = &[
    "Vor", "Osk", "Hap", "Gim", "Lur", "Nep", "Quo", "Rud", "Syl", "Thu", "Wob", "Yss", "Zim", "Dro", "Fip", "Kru", "Mab", "Pim", "Tov",
    "Ber", "Quill", "Tarn", "Ebb", "Brack", "Hollin", "Sandle", "Merrin", "Dunmar", "Corran", "Vantry", "Dornel", "Pellow", "Wrack",
    "Oster", "Sever", "Garron", "Lomar", "Thorle", "Kester", "Averil", "Brindle", "Caldra", "Fenner", "Hawse", "Issel", "Kelmar", "Larra",
    "Maunder", "Nether", "Orlan", "Penha", "Raven", "Skell", "Tamber", "Ulver", "Varra", "Whinny", "Yarrow", "Zellan", "Amber", "Bolter",
    "Creek", "Dallow", "Ester", "Flint", "Gorse", "Heather", "Inker", "Juniper", "Knoll", "Lichen", "Morra", "Norrin", "Adder", "Bracken",
    "Curlew", "Dulse", "Eider", "Fathom", "Gannet", "Haddo", "Ibbin", "Jarrel", "Kitti", "Linnet", "Marram", "Nuthal", "Osier", "Plover",
    "Quarrel", "Rushen", "Samphir", "Teasel", "Umber", "Vetch", "Wender", "Yaffle", "Zephy", "Alder", "Bramber", "Cobble", "Dapple",
    "Elver", "Ferrin", "Grebe", "Hessel", "Idris", "Jasper", "Kestle", "Lugger", "Mizzen", "Narrow", "Otterly", "Pinnace", "Quoin",
    "Reddle", "Scoter", "Thrift", "Ullin", "Vennel", "Wimble", "Yawle", "Arden", "Bittern", "Cinder", "Dorrel", "Embry", "Furze", "Gimlet",
    "Hobble", "Icken", "Jossel", "Kindle", "Lodden", "Medlar", "Nimble", "Oxley", "Pintle", "Rowel", "Sallow", "Tansy", "Ushen", "Vesper",
    "Willet", "Yelden", "Aster", "Brisk", "Cotter", "Dimmel", "Ermin", "Fallow", "Gurnet", "Harrel", "Ingle", "Jebble", "Kessle", "Lapwin",
    "Mallow", "Nettle", "Orchel", "Pimpern", "Rennet", "Sedge", "Tillen", "Urchin", "Verrin", "Wharfe", "Askel", "Bellow", "Cresset",
    "Drover", "Ellin", "Foxen", "Girdle", "Hurrel", "Islin", "Jolly", "Keddle", "Limmer", "Murren", "Nockle", "Ouzel", "Puffin", "Rimmel",
    "Sorrel", "Trundle", "Udall", "Vinnel", "Wexen", "Arbel", "Bobbin", "Carrel", "Dunnel", "Evenl", "Fennel", "Gavel", "Hammel", "Ivel",
    "Jennel", "Kernel", "Ladder", "Mussel", "Nibley", "Ostler", "Pannier", "Ribben", "Spindle", "Tussock", "Unstan", "Vellum", "Wattle",
];
const TAILS: &[&str] = &[
    "wick", "mere", "holt", "stead", "water", "haven", "strand", "combe", "garth", "hithe", "reach", "ness", "sund", "croft", "thorpe",
    "bourne", "moor", "fell", "gate", "rock", "barrow", "staithe", "scar", "lode", "wyke", "hurst", "den", "low", "rigg", "firth",
];

/// Names for so many companies, no two alike, with symbols of three or four letters.
pub(crate) fn all(count: usize, seed: u64) -> Vec<Name> {
    let mut chance = Chance::new(seed, 0, 77);
    let turns: Vec<usize> = INDUSTRIES.iter().enumerate().flat_map(|(i, x)| vec![i; x.weight]).collect();
    let (mut names, mut symbols, mut beginnings) = (HashSet::new(), HashSet::new(), HashSet::new());
    let mut out = Vec::with_capacity(count);
    for part in CAST.iter().take(count) {
        let industry = INDUSTRIES.iter().position(|i| i.name == part.industry).unwrap_or(0);
        names.insert(part.name.to_owned());
        beginnings.insert(beginning(part.name));
        symbols.insert(part.symbol.to_owned());
        out.push(Name { name: part.name.to_owned(), symbol: part.symbol.to_owned(), industry });
    }
    for i in out.len()..count {
        let industry = turns[(i * 7 + i / turns.len()) % turns.len()];
        let mut attempts = 0;
        out.push(loop {
            let name = one(&mut chance, industry, i);
            attempts += 1;
            // In a list no two begin alike, as long as there are beginnings left.
            let begins = i >= APART || beginnings.insert(beginning(&name)) || attempts > BEGINNINGS;
            if begins && names.insert(name.clone()) {
                let symbol = symbol(&name, &mut symbols, &mut chance);
                break Name { name, symbol, industry };
            }
        });
    }
    out
}

/// Beginnings that are tried for a name before one is used again.
const BEGINNINGS: usize = 5_000;
/// Names of which no two begin alike: larger worlds have more than there are beginnings.
const APART: usize = 1_250;

/// The first six letters.
fn beginning(name: &str) -> String {
    name.to_lowercase().chars().take(6).collect()
}

/// A place: no letter stands three times in a row.
fn place(chance: &mut Chance) -> String {
    let (head, tail) = (HEADS[chance.below(HEADS.len())], TAILS[chance.below(TAILS.len())]);
    let thrice = head.ends_with(&tail[..1].repeat(2));
    format!("{head}{}", &tail[usize::from(thrice)..])
}

fn one(chance: &mut Chance, industry: usize, i: usize) -> String {
    let nouns = INDUSTRIES[industry].nouns;
    let noun = nouns[chance.below(nouns.len())];
    // Only very large worlds need double names.
    if i > 4000 {
        return format!("{} & {} {noun}", place(chance), place(chance));
    }
    match chance.below(12) {
        0 => format!("{} & {} {noun}", surname(chance), ["Sons", "Daughters", "Partners"][chance.below(3)]),
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
