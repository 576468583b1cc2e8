"""Tablets in the same room: let in by a code that is shown on the desk, and shown out again."""

from __future__ import annotations

import hashlib
import hmac
import secrets
import string
import threading
import time
import uuid
from dataclasses import dataclass

import segno
from pydantic import BaseModel

from haze.core.errors import HazeError
from haze.store import tablets as store
from haze.store.connection import Database
from haze.store.tablets import TabletRow

CODE_LASTS_S = 10 * 60.0
MOST_WRONG = 5  # wrong codes until the code is withdrawn
SEEN_EVERY_S = 60.0
DIGITS = 8
UNNAMED = "A tablet"
MOST_NAME = 60


class WrongCodeError(HazeError):
    """A pairing code that is not the one on the desk, or no longer."""

    code = "wrong_code"


class TabletView(BaseModel):
    """A paired tablet."""

    id: str
    name: str
    paired_at: str
    last_seen_at: str


class TabletsView(BaseModel):
    """Whether tablets can come, where to, and who was let in.

    `code` is null until one is asked for; `qr` is a picture of the address with the code, as a data
    URI; `fingerprint` is that of the certificate a tablet is shown.
    """

    open: bool
    address: str | None
    fingerprint: str | None
    code: str | None
    lasts_s: int
    qr: str | None
    tablets: list[TabletView]


@dataclass(frozen=True, slots=True)
class DoorAddress:
    """Where tablets come in."""

    address: str  # "https://192.0.2.7:8761"
    fingerprint: str


class Tablets:
    """Pairing of one data folder."""

    def __init__(self, db: Database) -> None:
        self._db = db
        self._lock = threading.Lock()
        self._code: str | None = None
        self._until = 0.0
        self._wrong = 0
        self._seen: dict[str, float] = {}
        self.door: DoorAddress | None = None

    def view(self) -> TabletsView:
        """Whether tablets can come, where to, and who was let in."""
        with self._lock:
            left = self._until - time.monotonic()
            code = self._code if left > 0 else None
        door = self.door
        rows = store.every(self._db.connection())
        return TabletsView(
            open=door is not None,
            address=door.address if door else None,
            fingerprint=door.fingerprint if door else None,
            code=code,
            lasts_s=max(round(left), 0) if code else 0,
            qr=_qr(f"{door.address}/pair?code={code}") if door and code else None,
            tablets=[
                TabletView(id=r.id, name=r.name, paired_at=r.paired_at, last_seen_at=r.last_seen_at)
                for r in rows
            ],
        )

    def new_code(self) -> TabletsView:
        """Show a new code; the one before no longer holds."""
        with self._lock:
            self._code = "".join(secrets.choice("0123456789") for _ in range(DIGITS))
            self._until = time.monotonic() + CODE_LASTS_S
            self._wrong = 0
        return self.view()

    def pair(self, code: str, name: str) -> str:
        """Let a tablet in: what it shows from now on. A code lets one tablet in.

        Raises
        ------
        WrongCodeError : when it is not the code on the desk; after a few the code is withdrawn
        """
        given = "".join(c for c in code if c in string.digits)
        with self._lock:
            wanted = self._code if time.monotonic() < self._until else None
            if wanted is None or not hmac.compare_digest(given, wanted):
                self._wrong += 1
                if self._wrong >= MOST_WRONG:
                    self._code = None
                raise WrongCodeError(
                    "This is not the code on the desk, or it is too old. Ask for a new one in "
                    "Settings at the desk.",
                    field="code",
                )
            self._code = None
        token = secrets.token_urlsafe(32)
        kept = " ".join(name.split())[:MOST_NAME] or UNNAMED
        with self._db.atomic() as tx:
            store.add(tx, TabletRow(uuid.uuid4().hex, kept, _hash(token)))
        return token

    def knows(self, token: str) -> bool:
        """Whether a tablet was let in and not shown out."""
        row = store.by_hash(self._db.connection(), _hash(token))
        if row is None:
            return False
        at = time.monotonic()
        if at - self._seen.get(row.id, -SEEN_EVERY_S) >= SEEN_EVERY_S:
            self._seen[row.id] = at
            with self._db.atomic() as tx:
                store.seen(tx, row.id)
        return True

    def revoke(self, identity: str) -> TabletsView:
        """Show a tablet out; `MissingError` when there is none."""
        with self._db.atomic() as tx:
            store.revoke(tx, identity)
        return self.view()


def _hash(token: str) -> str:
    return hashlib.sha256(token.encode()).hexdigest()


def _qr(text: str) -> str:
    return str(segno.make(text, error="m").svg_data_uri(scale=5, border=2))
