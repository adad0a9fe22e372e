DROP TABLE gauges;
