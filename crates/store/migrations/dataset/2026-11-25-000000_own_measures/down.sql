DROP TABLE own_measures;
