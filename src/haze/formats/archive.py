"""A zip archive of a few known files, written plainly and read with care.

What comes from elsewhere may be made to harm: paths that lead out of a folder, links, two files of
one name, a few kilobytes that unpack to a disk full, files of other kinds. Nothing is unpacked to a
path of the archive's choosing, and nothing is read beyond what it may have.
"""

from __future__ import annotations

import io
import re
import stat
import struct
import zipfile
from collections.abc import Iterable, Iterator
from contextlib import contextmanager
from typing import IO

from haze.core.errors import BadFileError

# what years of photos and pieces come to, and more
MOST_BYTES = 2 * 2**30
MOST_ENTRIES = 30_000
MOST_UNPACKED = 4 * 2**30
MOST_TIMES = 400  # a text packs to a few hundredths; what packs far better is a bomb
BLOCK_BYTES = 2**20
# the end of an archive, as its format lays it out: how many entries, bytes of their list
END = struct.Struct("<10xHL6x")
END_SIGN = b"PK\5\6"
END64 = struct.Struct("<32xQQ8x")
END64_SIGN = b"PK\6\6"
END64_PLACE = struct.Struct("<20x")
END64_PLACE_SIGN = b"PK\6\7"
LONGEST_END = 2**16 + END.size + END64_PLACE.size
MOST_LIST_BYTES = 256 * MOST_ENTRIES
PLAIN = (zipfile.ZIP_STORED, zipfile.ZIP_DEFLATED)
ENCRYPTED = 0x1
# one moment for all: equal content gives an equal file
EPOCH = (1980, 1, 1, 0, 0, 0)


class Writer:
    """Writes an archive, entry by entry."""

    def __init__(self, file: IO[bytes]) -> None:
        self._zip = zipfile.ZipFile(file, "w", zipfile.ZIP_DEFLATED)

    def put(self, name: str, data: bytes) -> None:
        """Add an entry."""
        with self.open(name) as out:
            out.write(data)

    @contextmanager
    def open(self, name: str) -> Iterator[IO[bytes]]:
        """Add an entry that is written bit by bit."""
        info = zipfile.ZipInfo(name, EPOCH)
        info.compress_type = zipfile.ZIP_DEFLATED
        with self._zip.open(info, "w", force_zip64=True) as out:
            yield out

    def close(self) -> None:
        """End the archive."""
        self._zip.close()


class Reader:
    """Reads an archive whose entries have names that are known."""

    def __init__(self, file: IO[bytes], allowed: Iterable[str]) -> None:
        """`allowed` are patterns of whole names. `BadFileError` says what is wrong with a file."""
        patterns = [re.compile(pattern) for pattern in allowed]
        _require_few(file)
        try:
            self._zip = zipfile.ZipFile(file)
            entries = self._zip.infolist()
        except (zipfile.BadZipFile, ValueError, NotImplementedError, OSError, EOFError) as error:
            raise BadFileError(f"This is no file of Haze that can be read: {error}.") from error
        if len(entries) > MOST_ENTRIES:
            raise _too_many(len(entries))
        for entry in entries:
            _require_harmless(entry, patterns)
        names = [entry.filename for entry in entries]
        if len(set(names)) != len(names):
            raise BadFileError("The file holds two entries of one name.")
        whole = sum(entry.file_size for entry in entries)
        if whole > MOST_UNPACKED:
            raise BadFileError(
                f"The file unpacks to {whole / 2**20:.0f} MiB; at most "
                f"{MOST_UNPACKED // 2**20} are accepted."
            )
        self._entries = {entry.filename: entry for entry in entries}

    @property
    def names(self) -> list[str]:
        """All entries, in order."""
        return list(self._entries)

    def read(self, name: str, *, most: int) -> bytes:
        """An entry's bytes; refused when there are more than `most`."""
        out = io.BytesIO()
        self.copy(name, out, most=most)
        return out.getvalue()

    def copy(self, name: str, out: IO[bytes], *, most: int) -> None:
        """Write an entry's bytes; refused when there are more than `most`, or it is damaged."""
        entry = self._entries.get(name)
        if entry is None:
            raise BadFileError(f"The file lacks {name}.")
        left = min(most, entry.file_size)
        if entry.file_size > most:
            raise BadFileError(
                f"{name} has {entry.file_size / 2**20:.1f} MiB; at most {most / 2**20:g} are "
                "accepted."
            )
        try:
            with self._zip.open(entry) as packed:
                while block := packed.read(BLOCK_BYTES):
                    left -= len(block)
                    if left < 0:
                        raise BadFileError(f"{name} holds more than it says.")
                    out.write(block)
        except BadFileError:
            raise
        except Exception as error:
            # a damaged entry makes the library fail in many ways; none is the painter's concern
            raise BadFileError(f"{name} is damaged.") from error


def _require_few(file: IO[bytes]) -> None:
    """Refuse a file by what its end says of its entries, before any of them is read.

    The end is found as the library finds it (APPNOTE.TXT 6.3.10, 4.3.14 to 4.3.16).
    """
    size = file.seek(0, io.SEEK_END)
    file.seek(max(size - LONGEST_END, 0))
    tail = file.read()
    file.seek(0)
    at = len(tail) - END.size
    if at < 0 or not tail.startswith(END_SIGN, at) or tail[-2:] != b"\0\0":
        at = tail.rfind(END_SIGN)
    if at < 0 or len(tail) - at < END.size:
        return  # no archive at all: the library says so
    count, listed = END.unpack_from(tail, at)
    place = at - END64_PLACE.size
    if place >= 0 and tail.startswith(END64_PLACE_SIGN, place):
        end64 = size - len(tail) + place - END64.size
        if end64 >= 0:
            file.seek(end64)
            found = file.read(END64.size)
            file.seek(0)
            if found.startswith(END64_SIGN):
                count, listed = END64.unpack(found)
    if count > MOST_ENTRIES or listed > MOST_LIST_BYTES:
        raise _too_many(count)


def _too_many(count: int) -> BadFileError:
    return BadFileError(
        f"The file holds {count} entries, or a longer list of them than any Haze writes; at most "
        f"{MOST_ENTRIES} are accepted."
    )


def _require_harmless(entry: zipfile.ZipInfo, patterns: list[re.Pattern[str]]) -> None:
    name = entry.filename
    shown = name.encode("ascii", "backslashreplace").decode()[:80]
    mode = entry.external_attr >> 16
    if not any(pattern.fullmatch(name) for pattern in patterns):
        raise BadFileError(f"The file holds {shown!r}, which no file of Haze holds.")
    if mode and not stat.S_ISREG(mode) and stat.S_IFMT(mode):
        raise BadFileError(f"{shown} is no plain file but a link or a device.")
    if entry.flag_bits & ENCRYPTED:
        raise BadFileError(f"{shown} is encrypted; Haze writes and reads plain files.")
    if entry.compress_type not in PLAIN:
        raise BadFileError(f"{shown} is packed in a way Haze does not read.")
    if entry.file_size > MOST_TIMES * max(entry.compress_size, 1) + 4096:
        raise BadFileError(
            f"{shown} unpacks to {entry.file_size / max(entry.compress_size, 1):.0f} times its "
            "size, as no plan does."
        )
