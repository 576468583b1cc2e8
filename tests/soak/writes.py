"""Every kind of write, cut hard: what was acknowledged is there after the next start."""

from __future__ import annotations

import io
import json
import random
import threading
import time
import uuid
import zipfile
from collections import Counter
from collections.abc import Callable, Iterator
from dataclasses import dataclass, field
from http.client import HTTPException
from typing import Any
from urllib.error import HTTPError, URLError
from urllib.request import Request, urlopen

from PIL import Image
from serving import Server

from helpers import CARD

BROKEN_OFF = (OSError, HTTPException, ValueError, URLError, AssertionError)
PAINT = {"id": "tern-white", "name": "Tern White", "kind": "white"}
AIRBRUSH = {"id": "all-round", "name": "All-round", "needle_mm": 0.3}


@dataclass
class Writes:
    """What a server has acknowledged, by kind, and how each is written and found again."""

    server: Server
    rng: random.Random
    acknowledged: Counter[str] = field(default_factory=Counter)
    held: dict[str, list[Any]] = field(default_factory=dict)
    refused: list[str] = field(default_factory=list)

    def __post_init__(self) -> None:
        self.plan = self.server.ask("plans")["plans"][0]["id"]
        paints = self.server.ask("shelf")["paints"]
        paint = next(p for p in paints if p["kind"] == "airbrush_acrylic")
        self.paint = {name: paint[name] for name in ("id", "name", "kind")}
        self.day = self._day()
        first = next(s for s in self._booth()["steps"])
        self.step = first["id"]
        self.trial()
        self.session = self.server.ask("notebook")["sessions"][0]["id"]
        self.file = self._file()

    def _day(self) -> str:
        day = self.server.ask(f"plans/{self.plan}/day?today=2026-11-28")
        kept = self.server.ask(f"days/{day['id']}", {"version": 0, "doc": day["doc"]}, method="PUT")
        self.server.follow(self.server.ask(f"days/{kept['id']}/lay", {}))
        return str(kept["id"])

    def _booth(self) -> dict[str, Any]:
        found: dict[str, Any] = self.server.ask(f"days/{self.day}/booth")
        return found

    def _file(self) -> dict[str, bytes]:
        with urlopen(f"{self.server.address}api/plans/{self.plan}/plan.haze") as answer:
            archive = zipfile.ZipFile(io.BytesIO(answer.read()))
        return {name: archive.read(name) for name in archive.namelist()}

    def keep(self, kind: str, what: Any) -> None:
        """Note that a write was acknowledged."""
        self.held.setdefault(kind, []).append(what)
        self.acknowledged[kind] += 1

    # one acknowledged write of each kind --------------------------------------------------------

    def trial(self) -> None:
        identity = uuid.uuid4().hex
        body = {"id": identity, "look": "clean", "paint": PAINT, "airbrush": AIRBRUSH}
        self.server.ask("trials", body | {"setting": CARD})
        self.keep("trials", identity)

    def event(self) -> None:
        event = {
            "id": uuid.uuid4().hex,
            "at": "2026-11-28T14:00:00Z",
            "minute": 1.0,
            "kind": "done",
            "step": self.step,
            "number": self.rng.randrange(5),
        }
        self.server.ask(f"days/{self.day}/events", {"events": [event]})
        self.keep("events", event["id"])

    def photo(self) -> None:
        out = io.BytesIO()
        shade = tuple(self.rng.randrange(256) for _ in range(3))
        Image.new("RGB", (90 + self.rng.randrange(40), 80), shade).save(out, "JPEG")
        request = Request(f"{self.server.address}api/photos?session={self.session}", out.getvalue())
        try:
            with urlopen(request) as answer:
                self.keep("photos", json.load(answer)["id"])
        except HTTPError as error:
            if error.code != 422:  # a session holds so many photos and no more
                raise

    def card(self) -> None:
        body = {"paint": self.paint, "airbrush": AIRBRUSH, "setting": CARD, "title": "Shade"}
        self.keep("cards", self.server.ask("cards", body)["number"])

    def setting(self) -> None:
        value = self.rng.choice(["point", "comma", "auto"])
        self.server.ask("settings", {"name": "decimal_sign", "value": value}, method="PUT")
        self.keep("settings", value)

    def save(self) -> None:
        view = self.server.ask(f"plans/{self.plan}")
        body = {"version": view["version"], "plan": view["plan"], "what": "soak"}
        saved = self.server.ask(f"plans/{self.plan}", body, method="PUT")
        self.keep("saves", saved["version"])

    def imported(self) -> None:
        manifest = json.loads(self.file["haze.json"])
        identity = uuid.uuid4().hex
        manifest["plans"][0]["id"] = identity
        manifest["piece_photos"] = manifest["cards"] = manifest["card_photos"] = []
        manifest["sessions"] = manifest["photos"] = []
        named = {f"meshes/{m['id']}.{m['format']}" for m in manifest["meshes"]}
        out = io.BytesIO()
        with zipfile.ZipFile(out, "w") as file:
            file.writestr("haze.json", json.dumps(manifest))
            for name in named:
                file.writestr(name, self.file[name])
        with urlopen(Request(f"{self.server.address}api/files", out.getvalue())) as answer:
            look = json.load(answer)
        self.server.follow(self.server.ask("files/take", {"token": look["token"]}))
        self.keep("imports", identity)

    def backup(self) -> None:
        with urlopen(f"{self.server.address}api/backup") as answer:
            assert answer.read().startswith(b"SQLite format 3")
        self.keep("backups", True)

    @property
    def kinds(self) -> dict[str, Callable[[], None]]:
        """Every kind of write, by name."""
        return {
            "import": self.imported,
            "backup": self.backup,
            "events": self.event,
            "trials": self.trial,
            "photos": self.photo,
            "cards": self.card,
            "settings": self.setting,
            "saves": self.save,
        }

    def cut(self, kind: str, after_s: float) -> None:
        """Write one kind again and again, and stop the server hard after a while."""
        write, over = self.kinds[kind], threading.Event()

        def go_on() -> None:
            try:
                while not over.is_set():
                    write()
            except HTTPError as error:
                self.refused.append(f"{kind}: {error.code} {error.read()[:200]!r}")
            except BROKEN_OFF:
                return

        writer = threading.Thread(target=go_on)
        writer.start()
        time.sleep(after_s)
        self.server.kill()
        over.set()
        writer.join()

    def lost(self) -> Iterator[str]:
        """What was acknowledged and is not there."""
        held = self.held
        known = json.loads(self._text("notebook/notebook.json"))
        trials = {t["id"] for t in known["trials"]}
        yield from (f"trial {t}" for t in held.get("trials", []) if t not in trials)
        numbers = {c["number"] for c in known["cards"]}
        yield from (f"card {c}" for c in held.get("cards", []) if c not in numbers)
        photos = {p["id"] for p in known["photos"]}
        yield from (f"photo {p}" for p in held.get("photos", []) if p not in photos)
        plans = {p["id"] for p in known["plans"]}
        yield from (f"import {p}" for p in held.get("imports", []) if p not in plans)
        sent = self.server.ask(f"days/{self.day}/events", {"events": []})["events"]
        events = {e["id"] for e in sent}
        yield from (f"event {e}" for e in held.get("events", []) if e not in events)
        version = self.server.ask(f"plans/{self.plan}")["version"]
        if version < max(held.get("saves", [0])):
            yield f"saves after version {version}"
        unreadable = self.server.ask("unreadable")["records"]
        yield from (f"unreadable {one}" for one in unreadable)

    def _text(self, path: str) -> str:
        with urlopen(f"{self.server.address}api/{path}") as answer:
            return str(answer.read().decode())
