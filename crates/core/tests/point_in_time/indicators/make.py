"""Writes bars.csv and expected.json beside this file: 420 invented sessions and what TA-Lib makes of them.

Run with Python 3, numpy and TA-Lib (pip install TA-Lib). Week and month bars are joined here independently of the product.
Two conventions are the product's own and are not compared: a relative strength of 50 where nothing moved, and the
position in bands that are one.
"""
import csv, datetime, json, pathlib, random
import numpy as np, talib

here = pathlib.Path(__file__).parent
rng = random.Random(7)
day, price, bars = datetime.date(2022, 1, 3), 40.0, []
while len(bars) < 420:
    if day.weekday() < 5 and rng.random() > 0.02:
        opened = round(price * (1 + rng.gauss(0, 0.006)), 2)
        price = max(1.0, round(price * (1 + rng.gauss(0.0004, 0.018)), 2))
        high = round(max(opened, price) * (1 + abs(rng.gauss(0, 0.006))), 2)
        low = round(min(opened, price) * (1 - abs(rng.gauss(0, 0.006))), 2)
        bars.append((day, opened, high, low, price, rng.randrange(1000, 90000)))
    day += datetime.timedelta(days=1)

with open(here / "bars.csv", "w", newline="") as f:
    out = csv.writer(f, lineterminator="\n")
    out.writerow(["date", "open", "high", "low", "close", "volume"])
    out.writerows(bars)

def joined(key):
    groups = {}
    for b in bars:
        groups.setdefault(key(b[0]), []).append(b)
    return [(g[0][1], max(b[2] for b in g), min(b[3] for b in g), g[-1][4]) for g in groups.values()]

frames = {
    "day": [(b[1], b[2], b[3], b[4]) for b in bars],
    "week": joined(lambda d: d.isocalendar()[:2]),
    "month": joined(lambda d: (d.year, d.month)),
}
expected = {}
for size, rows in frames.items():
    _, high, low, close = (np.array(c, dtype=float) for c in zip(*rows))
    for n in (2, 5, 9, 14, 21):
        if len(close) > n:
            expected[f"rsi({n}, {size})"] = talib.RSI(close, n)[-1]
    for n in (5, 12, 26, 50):
        if len(close) >= n:
            expected[f"ema({n}, {size})"] = talib.EMA(close, n)[-1]
            expected[f"sma({n}, {size})"] = talib.SMA(close, n)[-1]
    for n in (5, 14):
        if len(close) > n:
            expected[f"atr({n}, {size})"] = talib.ATR(high, low, close, n)[-1]
    if len(close) >= 20:
        upper, _, lower = talib.BBANDS(close, 20, 2, 2)
        expected[f"bollinger_upper(20, 2, {size})"] = upper[-1]
        expected[f"bollinger_lower(20, 2, {size})"] = lower[-1]
json.dump(expected, open(here / "expected.json", "w"), indent=1)
