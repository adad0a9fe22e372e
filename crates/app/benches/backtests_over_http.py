#!/usr/bin/env python3
"""How long backtests, value checks and the record of the values take, as a page would see them.

    artemon demo --companies 10000 --data D --listen 127.0.0.1:8020 &
    python3 crates/app/benches/backtests_over_http.py http://127.0.0.1:8020

Asks over HTTP and waits as the page does. The first lines are those of a program that has just been started: start it anew to
measure them again. Backtests that it asks for stay in the list; delete them there.
"""
import json
import sys
import time
import urllib.request

SERVER = sys.argv[1] if len(sys.argv) > 1 else "http://127.0.0.1:8017"
CRITERIA = [
    {"formula": "own_rank(pe,10y)", "max": 30},
    {"formula": "own_rank(ps,10y)", "max": 40},
    {"formula": "net_margin", "min": 0.05},
    {"formula": "debt_to_equity", "max": 1.0},
    {"formula": "roe", "min": 0.08},
    {"formula": "current_ratio", "min": 1.0},
]
FIFTEEN_YEARS = {"from": "2011-11-30", "to": "2026-11-30", "base": "ZOC"}


def call(method, path, body=None):
    data = None if body is None else json.dumps(body).encode()
    request = urllib.request.Request(SERVER + path, data, {"Content-Type": "application/json"}, method=method)
    with urllib.request.urlopen(request) as answer:
        text = answer.read()
    return json.loads(text) if text else None


def timed(what, work):
    begun = time.perf_counter()
    said = work()
    print(f"{time.perf_counter() - begun:7.3f} s  {what}{f': {said}' if said else ''}", flush=True)


def backtest(settings):
    """Asks for a backtest and reads its result."""
    asked = call("POST", "/api/backtests", {"settings": settings})
    result = {"state": "waiting"}
    while result["state"] == "waiting":
        time.sleep(0.005)
        if not call("GET", "/api/backtests/running"):
            result = call("GET", f"/api/backtests/{asked['id']}")
    if result["state"] != "done":
        sys.exit(f"{result['state']}: {result['message']}")
    outcome = result["outcome"]
    return f"{outcome['annualised_return']:+.1%} a year, {len(outcome['rebalances'])} dates"


def value_check(formula):
    call("POST", "/api/backtests/measure", {"formula": formula, "universe": {}, **FIFTEEN_YEARS})


def record_of_the_values():
    call("POST", "/api/values-record")
    while not call("GET", "/api/values-record").get("record"):
        time.sleep(0.1)


def main():
    blocks = [{"criteria": CRITERIA}]
    screen = {"name": "Six criteria", "universe": {"min_market_cap": 50_000_000}, "blocks": blocks}
    first = {"screen": screen, "top": 20, "by": "earnings_yield", **FIFTEEN_YEARS}
    timed("quarterly, first", lambda: backtest(first))
    timed("another cost", lambda: backtest({**first, "cost_bps": 40}))
    timed("weighted by market capitalisation", lambda: backtest({**first, "weights": "market_cap"}))
    timed("the first 50", lambda: backtest({**first, "top": 50}))
    timed("monthly", lambda: backtest({**first, "every": 1}))
    for formula in ("ev_ebit", "roic", "own_rank(pb,10y)"):
        timed(f"value check of {formula}", lambda f=formula: value_check(f))
    timed("the record of the values", record_of_the_values)
    timed("the record again", lambda: call("GET", "/api/values-record") and None)
    timed("the list", lambda: call("GET", "/api/backtests") and None)
    valued = {"name": "By value", "universe": {}, "blocks": [{"criteria": [{"formula": "margin_of_safety", "min": 0.3}]}]}
    timed("quarterly by value", lambda: backtest({**first, "screen": valued}))


main()
