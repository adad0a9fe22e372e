//! The rows of a small world, made once.

use artemon_core::domain::Record;
use artemon_demo::World;
use std::sync::OnceLock;

pub(crate) fn records() -> &'static [Record] {
    static RECORDS: OnceLock<Vec<Record>> = OnceLock::new();
    RECORDS.get_or_init(|| {
        let mut all = Vec::new();
        let put = |record| {
            all.push(record);
            Ok::<(), ()>(())
        };
        World { companies: 5, seed: 3 }.make(put).unwrap();
        all
    })
}
