-- Which version of Haze wrote last: an older one that must refuse can say which one is needed.

CREATE TABLE written_by (
  id INTEGER PRIMARY KEY CHECK (id = 1),
  version TEXT NOT NULL
);
