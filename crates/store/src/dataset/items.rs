//! The items of one filing as bytes: version, checksum, one bit an item, then the figures of the items that are carried.
//!
//! Fifty columns of which half are empty would be read value by value at every start; a whole dataset has forty million
//! of them. Bits are those of [`Item::bit`]: new items go to the end of their list.

use artemon_core::domain::{Item, Items};

const VERSION: u8 = 1;
/// Version and checksum.
const HEADER: usize = 5;
const MASK: usize = 8;

/// Packs the items of a filing.
pub(crate) fn encode(items: &Items) -> Vec<u8> {
    let mut out = vec![VERSION, 0, 0, 0, 0];
    out.extend(items.mask().to_le_bytes());
    out.extend(items.iter().flat_map(|(_, v)| v.to_le_bytes()));
    let crc = crc32fast::hash(&out[HEADER..]);
    out[1..HEADER].copy_from_slice(&crc.to_le_bytes());
    out
}

/// The items of a filing; `None` when the bytes are damaged.
pub(crate) fn decode(bytes: &[u8]) -> Option<Items> {
    let (header, body) = bytes.split_at_checked(HEADER)?;
    let crc = u32::from_le_bytes(header[1..].try_into().ok()?);
    if header[0] != VERSION || crc32fast::hash(body) != crc {
        return None;
    }
    let (mask, figures) = body.split_at_checked(MASK)?;
    let mask = u64::from_le_bytes(mask.try_into().ok()?);
    let mut items = Items::default();
    let mut figures = figures.chunks_exact(8);
    for &item in Item::ALL.iter().filter(|i| mask & i.bit() != 0) {
        items.set(item, Some(f64::from_le_bytes(figures.next()?.try_into().ok()?)));
    }
    Some(items)
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn items_come_back_and_damage_is_noticed() {
        let mut items = Items::default();
        items.set(Item::ALL[0], Some(-0.1));
        items.set(Item::ALL[Item::ALL.len() - 1], Some(f64::MAX));
        let mut bytes = encode(&items);
        assert_eq!(decode(&bytes), Some(items));
        assert_eq!(decode(&encode(&Items::default())), Some(Items::default()));
        let last = bytes.len() - 1;
        bytes[last] ^= 1;
        assert_eq!(decode(&bytes), None);
        assert_eq!(decode(&bytes[..7]), None);
    }
}
