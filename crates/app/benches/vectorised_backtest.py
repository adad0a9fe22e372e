#!/usr/bin/env python3
"""The arithmetic of a backtest with a vectorised array library, from columns that are there already.

Quarterly over fifteen years, 10,000 companies of which 4,600 can be chosen from, six criteria, the first 20 by a seventh column, costs,
both benchmarks of the universe day by day, 1,000 random portfolios and the bootstrap. The columns are random numbers of the true
shapes: only the time counts. It is the measure that docs/performance.md holds Artemon's own time against.
"""
import time

import numpy as np

SESSIONS, COMPANIES, DATES, CRITERIA, TOP, DRAWS, COST = 3_900, 10_000, 60, 6, 20, 1_000, 0.002
rng = np.random.default_rng(1)
columns = rng.random((DATES, CRITERIA + 1, COMPANIES))
among = rng.random((DATES, COMPANIES)) < 0.46
caps = rng.lognormal(size=(DATES, COMPANIES))
units = np.exp(np.cumsum(rng.normal(0.0003, 0.015, (SESSIONS, COMPANIES)), axis=0))
trades = np.linspace(1, SESSIONS - 60, DATES).astype(int)


def after_costs(value, weights, held):
    left = value
    for _ in range(50):
        sign = np.where(weights * left >= held, COST, -COST)
        following = (value + (sign * held).sum(-1, keepdims=True)) / (1 + (sign * weights).sum(-1, keepdims=True))
        if np.all(np.abs(following - left) < 1e-15):
            break
        left = following
    return left


begun = time.perf_counter()
# Decisions.
passing = among & (columns[:, :CRITERIA] < 0.8).all(axis=1)
keys = np.where(passing, columns[:, CRITERIA], -np.inf)
picks = np.argsort(-keys, axis=1, kind="stable")[:, :TOP]
decided = time.perf_counter()
# The account, and the benchmarks of the universe, session by session.
curve, equal, cap = np.ones(SESSIONS), np.ones(SESSIONS), np.ones(SESSIONS)
held = np.zeros(COMPANIES)
ends = np.append(trades[1:], SESSIONS - 1)
for k, (start, end) in enumerate(zip(trades, ends)):
    weights = np.zeros(COMPANIES)
    weights[picks[k]] = 1 / TOP
    left = after_costs(np.array([curve[start]]), weights, held)[0]
    grown = units[start + 1 : end + 1] / units[start]
    curve[start + 1 : end + 1] = left * grown[:, picks[k]].mean(axis=1)
    held = weights * left * (units[end] / units[start])
    equal[start + 1 : end + 1] = equal[start] * grown[:, among[k]].mean(axis=1)
    of_cap = caps[k, among[k]] / caps[k, among[k]].sum()
    cap[start + 1 : end + 1] = cap[start] * (grown[:, among[k]] @ of_cap)
followed = time.perf_counter()
# Random portfolios: only what is held or bought is looked at.
values, held, before = np.ones((DRAWS, 1)), np.full((DRAWS, TOP), -1), np.zeros((DRAWS, TOP))
for k, (start, end) in enumerate(zip(trades, ends)):
    candidates = np.flatnonzero(among[k])
    drawn = rng.integers(0, len(candidates), (DRAWS, TOP))
    while len(again := np.flatnonzero((np.diff(np.sort(drawn, axis=1), axis=1) == 0).any(axis=1))):
        drawn[again] = rng.integers(0, len(candidates), (len(again), TOP))
    drawn = candidates[drawn]
    same = drawn[:, :, None] == held[:, None, :]
    kept = (same * before[:, None, :]).sum(axis=2)
    sold = np.where(same.any(axis=1), 0, before)
    left = after_costs(values, np.hstack([np.full((DRAWS, TOP), 1 / TOP), np.zeros((DRAWS, TOP))]), np.hstack([kept, sold]))
    held, before = drawn, left / TOP * (units[end, drawn] / units[start, drawn])
    values = before.sum(axis=1, keepdims=True)
# The bootstrap.
months = np.diff(np.log(curve[::21]))
against = np.diff(np.log(equal[::21]))
starts = rng.integers(0, len(months), (DRAWS, len(months)))
begins = rng.random((DRAWS, len(months))) < 1 / 6
begins[:, 0] = True
block = np.maximum.accumulate(np.where(begins, np.arange(len(months)), 0), axis=1)
at = (np.take_along_axis(starts, block, axis=1) + np.arange(len(months)) - block) % len(months)
excess = np.exp(12 * months[at].mean(axis=1)) - np.exp(12 * against[at].mean(axis=1))
np.percentile(excess, [5, 95])
ended = time.perf_counter()
print(f"decisions {decided - begun:.2f} s, account and benchmarks {followed - decided:.2f} s, chance {ended - followed:.2f} s")
print(f"in all {ended - begun:.2f} s")
