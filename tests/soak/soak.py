"""A long attack on the program as it is served: hostile files, wild requests, kills, a full disk.

`make soak` runs it and prints counts; it ends with 1 when anything failed, hung or was lost.
"""

from __future__ import annotations

import argparse
import io
import json
import logging
import os
import random
import shutil
import socket
import sqlite3
import ssl
import subprocess
import sys
import tempfile
import threading
import time
from collections import Counter
from collections.abc import Callable, Iterator
from concurrent.futures import ProcessPoolExecutor
from contextlib import contextmanager, suppress
from http.client import HTTPException
from pathlib import Path
from urllib.error import HTTPError
from urllib.request import Request, urlopen

import numpy as np
import schemathesis
import trimesh
from hypothesis import HealthCheck, Phase, given, settings

sys.path.insert(0, str(Path(__file__).parents[2] / "tools"))
sys.path.insert(0, str(Path(__file__).parents[1]))

from serving import Server
from writes import Writes

from formats.hostile import GOOD, HOSTILE
from harmed import harm, harms
from haze.formats.meshes import write_stl
from haze.service.bench import Bench
from haze.store.connection import FILE_NAME, Database
from haze.store.opening import migrations, statements
from haze.web.app import create_app
from lived_in import lived_in, opened_screens

PROCESSES = 2
MOST_S, MOST_MIB = 30.0, 1536
failures: list[str] = []


def fail(words: str) -> None:
    failures.append(words)
    print(f"  FAILED: {words}", flush=True)


@contextmanager
def serving(*, demo: bool = False) -> Iterator[Server]:
    """A server on a folder of its own."""
    with tempfile.TemporaryDirectory() as folder:
        server = Server(Path(folder) / "data", demo=demo)
        try:
            yield server
        finally:
            server.kill()


def family(pid: int) -> list[int]:
    """A process and all below it."""
    found = [pid]
    for one in found:
        with suppress(OSError):  # it may end while it is looked at
            children = Path(f"/proc/{one}/task/{one}/children").read_text()
            found += [int(child) for child in children.split()]
    return found


def resident(pid: int) -> float:
    """Memory [MiB] a process holds."""
    pages = int(Path(f"/proc/{pid}/statm").read_text().split()[1])
    return pages * os.sysconf("SC_PAGE_SIZE") / 2**20


class Memory:
    """The most memory [MiB] a process and its children held at one time, looked at often."""

    def __init__(self, pid: int) -> None:
        self.most = 0.0
        self._pid = pid
        self._done = threading.Event()
        self._thread = threading.Thread(target=self._look, daemon=True)

    def _look(self) -> None:
        while not self._done.wait(0.02):
            total = 0.0
            for pid in family(self._pid):
                with suppress(OSError, ValueError, IndexError):
                    total += resident(pid)
            self.most = max(self.most, total)

    def __enter__(self) -> Memory:
        self._thread.start()
        return self

    def __exit__(self, *_: object) -> None:
        self._done.set()
        self._thread.join()


def mutants(count: int, rng: random.Random) -> Iterator[tuple[str, bytes]]:
    """Hostile files: those of the tests, then good ones broken at random."""
    yield from HOSTILE.items()
    for n in range(count - len(HOSTILE)):
        kind = rng.choice(sorted(GOOD))
        data = bytearray(GOOD[kind])
        for _ in range(rng.randint(1, 20)):
            way = rng.randrange(4)
            at = rng.randrange(len(data))
            if way == 0:
                data[at] = rng.randrange(256)
            elif way == 1:
                data[at : at + 4] = rng.choice(
                    [b"\xff" * 4, b"\0" * 4, b"\xff\xff\xff\x7f", b"9999"]
                )
            elif way == 2:
                data[at : at + rng.randint(1, 60)] = b""
            else:
                data[at:at] = data[at : at + rng.randint(1, 400)] * rng.randint(1, 50)
            data = data or bytearray(b"x")
        yield f"{kind} {n}", bytes(data)


def files(count: int, rng: random.Random) -> None:
    """Send hostile files; each is kept or refused in words, and the server lives."""
    said: Counter[str] = Counter()
    slowest = 0.0
    with serving() as server, Memory(server.process.pid) as memory:
        for name, data in mutants(count, rng):
            begun = time.perf_counter()
            request = Request(f"{server.address}api/meshes?name=a.{name.split()[0]}", data)
            with urlopen(request) as answer:
                job = json.load(answer)
            with urlopen(f"{server.address}api/jobs/{job['id']}/events") as events:
                last = [line for line in events if line.startswith(b"data: ")][-1]
            view = json.loads(last.removeprefix(b"data: "))
            took = time.perf_counter() - begun
            slowest = max(slowest, took)
            said[view["code"] or view["state"]] += 1
            if view["code"] in ("internal", "broken_work") or took > MOST_S:
                fail(f"{name}: {view} in {took:.1f} s")
        left = list((server.folder / "incoming").glob("*"))
    print(f"hostile files {sum(said.values())}: {dict(said)}; slowest {slowest:.1f} s; most memory "
          f"{memory.most:.0f} MiB")  # fmt: skip
    if left:
        fail(f"{len(left)} files left lying about")
    if memory.most > MOST_MIB:
        fail(f"{memory.most:.0f} MiB")


def uploads(_: random.Random) -> None:
    """Send a large mesh again and again; the server's own memory goes back."""
    side = 1225
    y, x = np.mgrid[0:side, 0:side]
    corners = np.stack([x * 0.1, y * 0.1, 5 * np.sin(x / 30) + 4 * np.cos(y / 20)], -1)
    at = np.arange(side * side).reshape(side, side) + 1
    a, b, c, d = at[:-1, :-1], at[1:, :-1], at[1:, 1:], at[:-1, 1:]
    faces = np.concatenate([np.stack([a, b, c], -1), np.stack([a, c, d], -1)]).reshape(-1, 3)
    text = io.StringIO()
    np.savetxt(text, corners.reshape(-1, 3), fmt="v %.6f %.6f %.6f")
    np.savetxt(text, faces, fmt="f %d %d %d")
    data = text.getvalue().encode()
    times = []
    with serving() as server, Memory(server.process.pid) as memory:
        before = resident(server.process.pid)
        for n in range(3):
            begun = time.perf_counter()
            sent = data + b"# %d\n" % n
            with urlopen(Request(f"{server.address}api/meshes?name=big.obj", sent)) as answer:
                server.follow(json.load(answer))
            times.append(time.perf_counter() - begun)
        after = resident(server.process.pid)
    print(f"a text mesh of {len(data) / 2**20:.0f} MiB and {len(faces):,} triangles: "
          f"{', '.join(f'{t:.1f} s' for t in times)}; most memory {memory.most:.0f} MiB; the "
          f"server itself {before:.0f} MiB before, {after:.0f} after")  # fmt: skip
    if after > before + 100:
        fail("memory did not go back")


def requests(count: int, rng: random.Random) -> None:
    """Ask what the API document allows and what it does not."""
    said: Counter[int] = Counter()
    slowest = (0.0, "nothing")
    with serving(demo=True) as server, Memory(server.process.pid) as memory:
        schema = schemathesis.openapi.from_url(f"{server.address}api/openapi.json", timeout=MOST_S)
        operations = [one.ok() for one in schema.get_all_operations()]
        operations = [o for o in operations if not o.path.endswith("/news")]
        each = max(1, -(-count * 5 // (4 * len(operations))))  # some have fewer ways than asked
        for operation in operations:

            @settings(
                max_examples=each,
                deadline=None,
                database=None,
                suppress_health_check=list(HealthCheck),
                phases=[Phase.generate],
            )
            @given(case=operation.as_strategy())
            def check(case: schemathesis.Case) -> None:
                nonlocal slowest
                begun = time.perf_counter()
                answer = case.call(timeout=MOST_S)
                took = time.perf_counter() - begun
                if "event-stream" not in answer.headers.get("content-type", [""])[0]:
                    slowest = max(slowest, (took, f"{case.method} {case.path}"))
                said[answer.status_code] += 1
                if answer.status_code >= 500:
                    fail(f"{case.method} {case.path}: {answer.text[:200]}")

            check()
    took_s, where = slowest
    print(f"requests {sum(said.values())}: {dict(sorted(said.items()))}; slowest {took_s:.1f} s, "
          f"{where}; most memory {memory.most:.0f} MiB")  # fmt: skip
    if took_s > MOST_S:
        fail(f"{where} took {took_s:.1f} s")


def renamed(server: Server, identity: str, name: str) -> int:
    """Save a plan under a name on whatever version it has; the version that was told."""
    while True:
        view = server.ask(f"plans/{identity}")
        body = {"version": view["version"], "plan": view["plan"] | {"name": name}, "what": name}
        try:
            return int(server.ask(f"plans/{identity}", body, method="PUT")["version"])
        except HTTPError as error:
            if error.code != 409:
                raise


def kills(count: int, rng: random.Random) -> None:
    """Stop the server hard while plans are saved; nothing that was told as saved is lost."""
    told = lost = 0
    with serving(demo=True) as server:
        plans = [p["id"] for p in server.ask("plans")["plans"]]
        for n in range(count):
            heard: dict[str, list[int]] = {p: [0] for p in plans}

            def write(identity: str, heard: dict[str, list[int]] = heard, n: int = n) -> None:
                try:
                    for turn in range(1000):
                        heard[identity].append(renamed(server, identity, f"kill {n} turn {turn}"))
                except (OSError, HTTPException, ValueError):
                    return

            writers = [threading.Thread(target=write, args=(p,)) for p in plans]
            for writer in writers:
                writer.start()
            time.sleep(rng.uniform(0.05, 0.6))
            server.kill()
            for writer in writers:
                writer.join()
            server.start()
            for plan, versions in heard.items():
                told += len(versions) - 1
                if server.ask(f"plans/{plan}")["version"] < max(versions):
                    lost += 1
        with sqlite3.connect(server.folder / FILE_NAME) as db:
            whole = db.execute("PRAGMA integrity_check").fetchone()[0]
        db.close()
    print(f"kills {count}: {told} saves told, {lost} lost, database {whole}")
    if lost or whole != "ok":
        fail("a kill lost something")


def cuts(count: int, rng: random.Random) -> None:
    """Stop the server hard in the middle of every kind of write; each time it starts again."""
    refused = lost = 0
    with serving(demo=True) as server, Memory(server.process.pid) as memory:
        server.prepare()
        writes = Writes(server, rng)
        kinds = list(writes.kinds)
        slowest = 0.0
        for n in range(count):
            kind = kinds[n % len(kinds)]
            writes.cut(kind, rng.uniform(0.05, 8.0 if kind in ("import", "photos") else 1.2))
            begun = time.perf_counter()
            try:
                server.start()
            except Exception as error:
                refused += 1
                fail(f"no start after a cut of {kind}: {error}")
                break
            slowest = max(slowest, time.perf_counter() - begun)
            left = [p.name for p in server.folder.rglob("*.part")]
            gone = list(writes.lost())
            lost += len(gone)
            if gone or left:
                fail(f"after a cut of {kind}: lost {gone[:3]}, left {left[:3]}")
    for words in writes.refused:
        fail(words)
    print(f"cuts {count} over {', '.join(kinds)}: {dict(writes.acknowledged)} acknowledged, {lost} "
          f"lost, {refused} starts refused, the slowest {slowest:.1f} s; most memory of the first "
          f"server {memory.most:.0f} MiB")  # fmt: skip


def harmed_rows(_: random.Random) -> None:
    """Harm every column of every table in every way; Haze starts, and every screen opens."""
    with tempfile.TemporaryDirectory() as room:
        folder = Path(room) / "data"
        solid = trimesh.creation.cone(radius=10, height=25, sections=40)
        held = Bench(folder)
        lived_in(held, write_stl(solid.vertices, solid.faces))
        held.close()
        with ProcessPoolExecutor(PROCESSES) as pool:
            parts = list(pool.map(_harm_some, [folder] * PROCESSES, range(PROCESSES)))
    for words in (w for part in parts for w in part[2]):
        fail(words)
    tried, set_aside = (sum(part[n] for part in parts) for n in (0, 1))
    failed = sum(len(part[2]) for part in parts)
    print(f"harmed rows {tried}: {set_aside} set aside by name, {failed} took a screen with them")


def _harm_some(whole: Path, part: int) -> tuple[int, int, list[str]]:
    """How many of a part of the harms were tried and set aside by name, and what failed."""
    logging.disable()
    tried, set_aside, failed = 0, 0, []
    folder = shutil.copytree(whole, whole.with_name(f"part-{part}"))
    for one in list(harms(folder, thorough=True))[part::PROCESSES]:
        if harm(folder, one) is None:
            continue
        tried += 1
        bench = Bench(folder)
        bench.tidy()
        client = create_app(bench).test_client()
        bad = list(opened_screens(client))
        set_aside += bool(client.get("/api/unreadable").json["records"])
        bench.close()
        if bad or bench.notices:
            failed.append(f"{one}: {bad[:1]} {bench.notices}")
        # a start may write too
        for left in folder.glob(f"{FILE_NAME}*"):
            left.unlink()
        shutil.copyfile(whole / FILE_NAME, folder / FILE_NAME)
    return tried, set_aside, failed


def silent_clients(rng: random.Random) -> None:
    """400 clients of the door for tablets that say nothing, or half; others are let in."""
    with tempfile.TemporaryDirectory() as folder:
        host = "127.0.0.2"
        server = Server(Path(folder) / "data", demo=False, more=["--host", host, "--tablets"])
        port = int(server.address.rsplit(":", 1)[-1].strip("/")) + 1
        context = ssl.create_default_context()
        context.check_hostname = False
        context.verify_mode = ssl.CERT_NONE
        slowest = 0.0
        try:
            with Memory(server.process.pid) as memory:
                held = [socket.create_connection((host, port)) for _ in range(200)]
                for n in range(20):
                    if n == 10:
                        for one in held[:100]:
                            with suppress(OSError):
                                one.sendall(rng.randbytes(40))
                    slowest = max(slowest, _paired(host, port, context))
                for one in held:
                    one.close()
                half = []
                for _ in range(200):
                    with suppress(OSError):
                        one = context.wrap_socket(socket.create_connection((host, port)))
                        one.sendall(
                            b"POST /pair HTTP/1.1\r\nHost: 127.0.0.2\r\nContent-Length: 40\r\n"
                        )
                        half.append(one)
                other = "127.0.0.3"  # one address is full of half requests; another is not
                slowest = max(slowest, _paired(host, port, context, source=other))
                for one in half:
                    one.close()
        finally:
            server.kill()
    print(f"200 silent and {len(half)} half requests at the door: /pair took {slowest:.2f} s at "
          f"most; most memory {memory.most:.0f} MiB")  # fmt: skip
    if slowest > 5.0:
        fail(f"/pair took {slowest:.1f} s")


def _paired(host: str, port: int, context: ssl.SSLContext, *, source: str = "") -> float:
    """Seconds until the page for pairing is there."""
    begun = time.perf_counter()
    raw = socket.create_connection((host, port), source_address=(source, 0) if source else None)
    with context.wrap_socket(raw) as peer:
        peer.settimeout(MOST_S)
        peer.sendall(b"GET /pair HTTP/1.1\r\nHost: 127.0.0.2\r\nConnection: close\r\n\r\n")
        if not peer.recv(64).startswith(b"HTTP/1.1 200"):
            fail("/pair was not answered")
    return time.perf_counter() - begun


def kills_while_migrating(count: int, rng: random.Random) -> None:
    """Stop the start hard while an old database is brought up, and start again."""
    cut = 0
    for _ in range(count):
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / FILE_NAME
            db = sqlite3.connect(path, isolation_level=None)
            for statement in statements(migrations()[0][1]):
                db.execute(statement)
            db.execute("PRAGMA user_version = 1")
            db.execute(
                "INSERT INTO mesh VALUES (?, 'a', 'stl', 30000000, 1, zeroblob(30000000), 'now')",
                ("a" * 64,),
            )
            db.close()
            code = "from pathlib import Path; from haze.store.connection import Database; "
            code += f"print('go', flush=True); Database(Path({folder!r}))"
            child = subprocess.Popen([sys.executable, "-c", code], stdout=subprocess.PIPE)
            assert child.stdout is not None
            child.stdout.readline()
            time.sleep(rng.uniform(0.0, 0.4))
            cut += child.poll() is None
            child.kill()
            child.wait()
            held = Database(Path(folder))
            tx = held.connection()
            version = tx.execute("PRAGMA user_version").fetchone()[0]
            rows = tx.execute("SELECT count(*), sum(length(data)) FROM mesh").fetchone()
            if version != migrations()[-1][0] or tuple(rows) != (1, 30_000_000):
                fail(f"a kill while migrating left version {version}, {tuple(rows)}")
            held.close()
    print(f"kills while migrating {count}: {cut} in the middle, all brought up whole")


def full_disk(_: random.Random) -> None:
    """Fill the disk under a server; saves are refused in words, and go on when there is room."""
    with tempfile.TemporaryDirectory() as mount:
        mounted = subprocess.run(
            ["mount", "-t", "tmpfs", "-o", "size=24m", "tmpfs", mount],
            check=False,
            capture_output=True,
        )
        if mounted.returncode:
            print("full disk: not tried, a small disk can not be made here")
            return
        try:
            server = Server(Path(mount) / "data", demo=True)
            plan = server.ask("plans")["plans"][0]["id"]
            ballast = Path(mount) / "ballast"
            with ballast.open("wb", buffering=0) as file:
                try:
                    while file.write(b"x" * 4096):
                        pass
                except OSError:
                    pass
            said: Counter[int] = Counter()
            for n in range(2000):
                if said[507] >= 5:
                    break
                try:
                    renamed(server, plan, f"full {n}")
                    said[200] += 1
                except HTTPError as error:
                    said[error.code] += 1
            ballast.unlink()
            version = renamed(server, plan, "room again")
            server.kill()
            again = Server(Path(mount) / "data", demo=False)
            kept = again.ask(f"plans/{plan}")
            again.kill()
            print(f"full disk: saves {dict(said)}, then saved with room as version {version}")
            if said[507] == 0 or set(said) - {200, 507} or kept["plan"]["name"] != "room again":
                fail(f"full disk: {dict(said)}")
        finally:
            subprocess.run(["umount", "-l", mount], check=False)


def two_pages(_: random.Random) -> None:
    """Eight pages on one plan: each save is whole, none is written over."""
    with serving(demo=True) as server:
        plan = server.ask("plans")["plans"][0]["id"]
        before = server.ask(f"plans/{plan}")["version"]
        made: list[int] = []

        def write(page: int) -> None:
            made.extend(renamed(server, plan, f"page {page} turn {t}") for t in range(12))

        pages = [threading.Thread(target=write, args=(p,)) for p in range(8)]
        for page in pages:
            page.start()
        for page in pages:
            page.join()
        after = server.ask(f"plans/{plan}")["version"]
    print(f"eight pages on one plan: {len(made)} saves told, {len(set(made))} versions")
    if sorted(made) != list(range(before + 1, after + 1)) or len(made) != 96:
        fail("a save was written over")


def while_a_table_comes_in(rng: random.Random) -> None:
    """Save plans while a table of thousands of lines comes in."""
    rows = [f"Chart {n},Oddmere,#{rng.randrange(2**24):06x},#304050,#90a0b0,8" for n in range(3000)]
    table = "\n".join(["name,maker,colour,over_dark,over_light,swatch_um", *rows]).encode()
    with serving(demo=True) as server:
        plan = server.ask("plans")["plans"][0]["id"]
        slowest, saves, over = 0.0, 0, threading.Event()

        def bring_in() -> None:
            for apply in ("false", "true"):
                request = Request(f"{server.address}api/shelf/csv?apply={apply}", table)
                with urlopen(request) as answer:
                    assert json.load(answer)["new"] == 3000
            over.set()

        bringing = threading.Thread(target=bring_in)
        bringing.start()
        while not over.is_set():
            begun = time.perf_counter()
            renamed(server, plan, f"save {saves}")
            slowest, saves = max(slowest, time.perf_counter() - begun), saves + 1
        bringing.join()
    print(f"a table of 3,000 lines came in: {saves} saves beside it, slowest {slowest:.2f} s")
    if slowest > 5:
        fail(f"a save took {slowest:.1f} s")


def main() -> int:
    """Everything, or what is named."""
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--seed", type=int, default=1)
    parser.add_argument("--small", action="store_true", help="a tenth of everything")
    parser.add_argument("only", nargs="*", help="parts by name")
    args = parser.parse_args()
    share = 10 if args.small else 1
    parts: dict[str, Callable[[random.Random], None]] = {
        "files": lambda rng: files(300 if share == 1 else 60, rng),
        "uploads": uploads,
        "requests": lambda rng: requests(5000 // share, rng),
        "kills": lambda rng: kills(50 // share, rng),
        "cuts": lambda rng: cuts(max(60 // share, 8), rng),
        "harmed": harmed_rows,
        "silent": silent_clients,
        "migrating": lambda rng: kills_while_migrating(10 // share, rng),
        "disk": full_disk,
        "pages": two_pages,
        "table": while_a_table_comes_in,
    }
    for name, part in parts.items():
        if not args.only or name in args.only:
            begun = time.perf_counter()
            part(random.Random(args.seed))
            print(f"  ({name}: {time.perf_counter() - begun:.0f} s)", flush=True)
    print(f"{len(failures)} failures")
    return 1 if failures else 0


if __name__ == "__main__":
    sys.exit(main())
