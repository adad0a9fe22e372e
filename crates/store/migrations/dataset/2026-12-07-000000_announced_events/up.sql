-- The day on which an event became known; without it from thirty days before.
ALTER TABLE events ADD COLUMN announced_on INTEGER;
