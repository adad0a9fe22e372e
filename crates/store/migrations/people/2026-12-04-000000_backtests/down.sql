DROP TABLE backtests;
