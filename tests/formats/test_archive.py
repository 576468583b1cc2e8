"""Archives: what was written is read, and what was made to harm is refused in one sentence."""

from __future__ import annotations

import io
import stat
import zipfile

import pytest

from haze.core.errors import BadFileError
from haze.formats import archive
from haze.formats.archive import Reader, Writer

ALLOWED = (r"haze\.json", r"photos/[a-z]+\.jpg")


def written(**entries: bytes) -> io.BytesIO:
    file = io.BytesIO()
    out = Writer(file)
    for name, data in entries.items():
        out.put(name.replace("_", "."), data)
    out.close()
    file.seek(0)
    return file


def made(
    *entries: tuple[zipfile.ZipInfo | str, bytes], method: int = zipfile.ZIP_DEFLATED
) -> io.BytesIO:
    file = io.BytesIO()
    with zipfile.ZipFile(file, "w", method) as out:
        for name, data in entries:
            out.writestr(name, data)
    file.seek(0)
    return file


def test_what_was_written_is_read_and_equal_content_gives_an_equal_file() -> None:
    file = written(haze_json=b'{"a": 1}')
    assert Reader(file, ALLOWED).read("haze.json", most=100) == b'{"a": 1}'
    assert written(haze_json=b"x").getvalue() == written(haze_json=b"x").getvalue()


@pytest.mark.parametrize(
    "name",
    ["../haze.json", "/haze.json", "..\\haze.json", "photos/../../a.jpg", "C:/a.jpg", "photos/",
     "photos/a.jpg/b.jpg", "HAZE.JSON", "evil.sh"],
)  # fmt: skip
def test_a_path_that_no_file_of_haze_has_is_refused(name: str) -> None:
    info = zipfile.ZipInfo("haze.json")
    info.filename = name
    with pytest.raises(BadFileError, match="which no file of Haze holds"):
        Reader(made((info, b"x")), ALLOWED)


@pytest.mark.parametrize("kind", [stat.S_IFLNK, stat.S_IFCHR, stat.S_IFIFO, stat.S_IFDIR])
def test_a_link_or_a_device_is_refused(kind: int) -> None:
    info = zipfile.ZipInfo("haze.json")
    info.external_attr = (kind | 0o777) << 16
    with pytest.raises(BadFileError, match="link or a device"):
        Reader(made((info, b"/etc/passwd")), ALLOWED)


def test_a_bomb_is_refused_before_it_is_unpacked() -> None:
    with pytest.raises(BadFileError, match="times its size"):
        Reader(made(("haze.json", b"\0" * 30_000_000)), ALLOWED)


def test_an_entry_is_refused_when_it_is_larger_than_it_may_be() -> None:
    reader = Reader(made(("haze.json", bytes(range(256)) * 40)), ALLOWED)
    with pytest.raises(BadFileError, match="are accepted"):
        reader.read("haze.json", most=10_000)
    assert len(reader.read("haze.json", most=10_240)) == 10_240


def test_an_entry_that_holds_more_than_it_says_is_refused() -> None:
    file = made(("haze.json", b"abcdefgh" * 64), method=zipfile.ZIP_STORED)
    data = file.getvalue().replace((512).to_bytes(4, "little"), (16).to_bytes(4, "little"))
    with pytest.raises(BadFileError):
        Reader(io.BytesIO(data), ALLOWED).read("haze.json", most=10_000)


def test_two_entries_of_one_name_too_many_and_other_packings_are_refused(
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    with pytest.warns(UserWarning, match="Duplicate"):
        twice = made(("haze.json", b"a"), ("haze.json", b"b"))
    with pytest.raises(BadFileError, match="two entries of one name"):
        Reader(twice, ALLOWED)
    with pytest.raises(BadFileError, match="packed in a way"):
        Reader(made(("haze.json", b"a" * 99), method=zipfile.ZIP_LZMA), ALLOWED)
    monkeypatch.setattr(archive, "MOST_ENTRIES", 2)
    many = made(*((f"photos/{c}.jpg", b"x") for c in "abc"))
    with pytest.raises(BadFileError, match="3 entries"):
        Reader(many, ALLOWED)


@pytest.mark.parametrize("data", [b"", b"PK", b"not a zip", b"PK\x05\x06" + b"\0" * 17])
def test_what_is_no_archive_is_refused(data: bytes) -> None:
    with pytest.raises(BadFileError, match="no file of Haze"):
        Reader(io.BytesIO(data), ALLOWED)


def test_a_damaged_entry_is_refused_and_so_is_a_missing_one() -> None:
    file = written(haze_json=b"some text that is packed" * 20)
    data = bytearray(file.getvalue())
    data[60] ^= 0xFF
    with pytest.raises(BadFileError, match="damaged"):
        Reader(io.BytesIO(bytes(data)), ALLOWED).read("haze.json", most=10_000)
    with pytest.raises(BadFileError, match=r"lacks photos/a\.jpg"):
        Reader(file, ALLOWED).read("photos/a.jpg", most=10)


def many(count: int) -> bytes:
    """An archive that says it holds so many entries, and a list as long."""
    file = made(("haze.json", b"{}"))
    data = bytearray(file.getvalue())
    end = data.rfind(b"PK\5\6")
    data[end + 8 : end + 12] = min(count, 0xFFFF).to_bytes(2, "little") * 2
    return bytes(data)


def test_too_many_entries_are_refused_before_any_is_read(monkeypatch: pytest.MonkeyPatch) -> None:
    data = io.BytesIO(many(60_000))
    monkeypatch.setattr(archive.zipfile, "ZipFile", None)  # nothing is read
    with pytest.raises(BadFileError, match="60000 entries"):
        Reader(data, ALLOWED)


def test_a_longer_list_than_the_end_admits_is_refused(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(archive, "MOST_LIST_BYTES", 10)
    with pytest.raises(BadFileError, match="longer list"):
        Reader(made(("haze.json", b"{}")), ALLOWED)


def test_the_end_of_a_large_archive_is_read_too(monkeypatch: pytest.MonkeyPatch) -> None:
    file = io.BytesIO()
    monkeypatch.setattr(zipfile, "ZIP_FILECOUNT_LIMIT", 2)
    with zipfile.ZipFile(file, "w") as out:
        for n in range(4):
            out.writestr(f"photos/{'abcd'[n]}.jpg", b"x")
    assert b"PK\6\6" in file.getvalue()
    monkeypatch.setattr(archive, "MOST_ENTRIES", 3)
    with pytest.raises(BadFileError, match="holds 4 entries"):
        Reader(file, ALLOWED)


def test_an_archive_with_a_remark_is_read(monkeypatch: pytest.MonkeyPatch) -> None:
    file = io.BytesIO()
    with zipfile.ZipFile(file, "w") as out:
        out.writestr("haze.json", b"{}")
        out.comment = b"a remark"
    assert Reader(file, ALLOWED).names == ["haze.json"]
    monkeypatch.setattr(archive, "MOST_ENTRIES", 0)
    with pytest.raises(BadFileError, match="holds 1 entries"):
        Reader(file, ALLOWED)
