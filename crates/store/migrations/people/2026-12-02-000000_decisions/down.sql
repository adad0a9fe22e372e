DROP TABLE decision_reviews;
DROP TABLE decisions;
