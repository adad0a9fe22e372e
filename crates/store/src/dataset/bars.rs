//! Bars of one listing and calendar year as bytes: versioned, checksummed, one column a field.
//!
//! Layout (little endian): version u8 · decimals u8 (255: prices as f64) · count u16 · CRC-32 of the rest u32 · dates i32 ·
//! open, high, low, close (i32 scaled by 10^decimals, or f64) · volume f64. Lossless: decimals are used only when every
//! price comes back equal to the last bit.

use artemon_core::{
    domain::{Bar, Day},
    panel::{BarColumns, Figures, MAX_DECIMALS, scaled},
};

const VERSION: u8 = 1;
const HEADER: usize = 8;
const AS_FLOATS: u8 = u8::MAX;

/// Encodes the bars of one year, oldest first.
pub(crate) fn encode(bars: &[Bar]) -> Vec<u8> {
    let prices: Vec<f64> = bars.iter().flat_map(|b| [b.open, b.high, b.low, b.close]).collect();
    let whole = as_whole(&prices);
    let mut body = Vec::with_capacity(bars.len() * 44);
    bars.iter().for_each(|b| body.extend_from_slice(&b.date.epoch_days().to_le_bytes()));
    for field in 0..4 {
        match &whole {
            Some((_, whole)) => whole.iter().skip(field).step_by(4).for_each(|n| body.extend_from_slice(&n.to_le_bytes())),
            None => prices.iter().skip(field).step_by(4).for_each(|p| body.extend_from_slice(&p.to_le_bytes())),
        }
    }
    bars.iter().for_each(|b| body.extend_from_slice(&b.volume.to_le_bytes()));
    let count = u16::try_from(bars.len()).unwrap_or(u16::MAX);
    let mut out = Vec::with_capacity(HEADER + body.len());
    out.extend([VERSION, whole.map_or(AS_FLOATS, |w| w.0)]);
    out.extend(count.to_le_bytes());
    out.extend(crc32fast::hash(&body).to_le_bytes());
    out.extend(body);
    out
}

/// Prices as whole numbers with as few decimals as hold them all.
fn as_whole(prices: &[f64]) -> Option<(u8, Vec<i32>)> {
    let mut decimals = 0;
    for price in prices {
        while scaled(*price, decimals).is_none() {
            decimals += 1;
            if decimals > MAX_DECIMALS {
                return None;
            }
        }
    }
    let whole: Option<Vec<i32>> = prices.iter().map(|p| scaled(*p, decimals)).collect();
    whole.map(|w| (decimals, w))
}

/// What a chunk says of itself, the CRC of the rest included.
pub(crate) fn header(bytes: &[u8]) -> &[u8] {
    bytes.get(..HEADER).unwrap_or(bytes)
}

/// Whether a chunk is as its header says.
pub(crate) fn is_whole(bytes: &[u8]) -> bool {
    bytes.split_at_checked(HEADER).is_some_and(|(header, body)| header[4..] == crc32fast::hash(body).to_le_bytes())
}

/// How many bars a chunk says it has.
pub(crate) fn count(bytes: &[u8]) -> usize {
    bytes.get(2..4).map_or(0, |b| usize::from(u16::from_le_bytes([b[0], b[1]])))
}

/// Decodes a chunk; `None` when it is damaged.
pub(crate) fn decode(bytes: &[u8]) -> Option<Vec<Bar>> {
    let mut columns = BarColumns::default();
    decode_into(bytes, &mut columns)?;
    Some(columns.bars().collect())
}

/// Appends the bars of a chunk to columns; `None` when it is damaged.
pub(crate) fn decode_into(bytes: &[u8], out: &mut BarColumns) -> Option<()> {
    let (header, body) = bytes.split_at_checked(HEADER)?;
    let count = count(header);
    let crc = u32::from_le_bytes(header[4..8].try_into().ok()?);
    let (decimals, width) = (header[1], if header[1] == AS_FLOATS { 8 } else { 4 });
    if header[0] != VERSION || crc32fast::hash(body) != crc || body.len() != count * (4 + 4 * width + 8) {
        return None;
    }
    let (dates, rest) = body.split_at(count * 4);
    let (prices, volumes) = rest.split_at(count * 4 * width);
    out.date.extend(dates.chunks_exact(4).map(|b| Day::from_epoch_days(int(b))));
    for (field, column) in [&mut out.open, &mut out.high, &mut out.low, &mut out.close].into_iter().enumerate() {
        let cells = prices[field * count * width..(field + 1) * count * width].chunks_exact(width);
        if width == 8 { cells.map(float).for_each(|v| column.push(v)) } else { column.extend_whole(decimals, cells.map(int)) }
    }
    append_volumes(volumes, &mut out.volume);
    Some(())
}

/// Volumes are mostly whole.
#[allow(clippy::cast_possible_truncation, clippy::float_cmp)]
fn append_volumes(bytes: &[u8], out: &mut Figures) {
    let volumes = bytes.chunks_exact(8).map(float);
    if volumes.clone().all(|v| f64::from(v as i32) == v) {
        out.extend_whole(0, volumes.map(|v| v as i32));
    } else {
        volumes.for_each(|v| out.push(v));
    }
}

fn int(b: &[u8]) -> i32 {
    i32::from_le_bytes([b[0], b[1], b[2], b[3]])
}

fn float(b: &[u8]) -> f64 {
    f64::from_le_bytes([b[0], b[1], b[2], b[3], b[4], b[5], b[6], b[7]])
}

#[cfg(test)]
mod tests {
    use super::*;

    fn bar(day: i32, price: f64) -> Bar {
        Bar { date: Day::from_epoch_days(day), open: price, high: price * 1.5, low: price / 2.0, close: price, volume: 1e9 + 0.5 }
    }

    #[test]
    fn chunks_come_back_to_the_last_bit() {
        for bars in [vec![], vec![bar(10_000, 61.34), bar(10_001, 2.5)], vec![bar(1, 1.0 / 3.0), bar(2, 1e12)]] {
            assert_eq!(decode(&encode(&bars)), Some(bars));
        }
    }

    #[test]
    fn a_flipped_bit_is_noticed() {
        let mut bytes = encode(&[bar(10_000, 61.34)]);
        let last = bytes.len() - 1;
        bytes[last] ^= 1;
        assert_eq!(decode(&bytes), None);
    }
}
