-- Where the colour of a paint comes from: it was given, or guessed from the name.

ALTER TABLE paint ADD COLUMN colour_from TEXT NOT NULL DEFAULT 'given'
  CHECK (colour_from IN ('given', 'guessed'));
