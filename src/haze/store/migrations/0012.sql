-- Photos of cards and of painted pieces lie in a trash before they are deleted for good.

ALTER TABLE card_photo ADD COLUMN trashed_at TEXT;
ALTER TABLE piece_photo ADD COLUMN trashed_at TEXT;
