//! An import that is killed at any moment leaves the dataset as it was, and the next one lands whole.

use crate::server::{command, killed, number, run};
use std::{
    path::Path,
    time::{Duration, Instant},
};

fn price(data: &Path) -> String {
    let asked = ["evaluate", "--formula", "price", "--symbols", "DRUA", "--as-of", "2025-06-27", "--format", "csv"];
    String::from_utf8_lossy(&run(data, &asked).stdout).into_owned()
}

#[test]
fn kills_lose_nothing_and_leave_nothing_half_done() {
    let golden = Path::new(env!("CARGO_MANIFEST_DIR")).join("../../golden/package");
    let data = tempfile::tempdir().unwrap();
    let started = Instant::now();
    assert!(command(data.path()).arg("import").arg(&golden).output().unwrap().status.success());
    let whole = started.elapsed();
    assert_eq!(price(data.path()), "symbol,price\nDRUA,113.96\n");

    // The same dataset with every price doubled: after a kill all prices are the old ones or all the new ones.
    let changed = tempfile::tempdir().unwrap();
    for entry in std::fs::read_dir(&golden).unwrap() {
        let path = entry.unwrap().path();
        std::fs::copy(&path, changed.path().join(path.file_name().unwrap())).unwrap();
    }
    let prices = std::fs::read_to_string(golden.join("prices.csv")).unwrap();
    let mut lines = prices.lines();
    let mut doubled = format!("{}\n", lines.next().unwrap());
    for line in lines {
        let cells: Vec<&str> = line.split(',').collect();
        let twice: Vec<String> = cells[2..6].iter().map(|c| (c.parse::<f64>().unwrap() * 2.0).to_string()).collect();
        doubled += &format!("{},{},{},{}\n", cells[0], cells[1], twice.join(","), cells[6]);
    }
    std::fs::write(changed.path().join("prices.csv"), doubled).unwrap();

    let (kills, mut landed) = (number("KILLS", 20), 0);
    for n in 0..kills {
        let after = whole.mul_f64(n as f64 / kills as f64) + Duration::from_millis(n * 7 % 13);
        killed(data.path(), &["import", changed.path().to_str().unwrap()], after);
        let after = price(data.path());
        assert!(["symbol,price\nDRUA,113.96\n", "symbol,price\nDRUA,227.92\n"].contains(&after.as_str()), "kill {n}: {after}");
        if after.contains("227.92") {
            landed += 1;
            assert!(command(data.path()).arg("import").arg(&golden).output().unwrap().status.success());
        }
    }
    assert!(landed < kills, "the kills came too late to mean anything");
    assert!(run(data.path(), &["check"]).status.success());
    assert!(command(data.path()).arg("import").arg(changed.path()).output().unwrap().status.success());
    assert!(price(data.path()).contains("227.92"));
}
