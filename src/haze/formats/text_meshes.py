"""Mesh files in text: STL, OBJ and PLY, counted first, then read in blocks by numpy."""

from __future__ import annotations

import warnings
from collections.abc import Callable, Iterator

import numpy as np

from haze.core.arrays import Array, Ints, Mask
from haze.core.errors import MeshError
from haze.core.mesh.mesh import MOST_FACES, RawMesh, soup, too_many
from haze.core.progress import Progress, tell
from haze.formats.ply_header import PlyHeader
from haze.formats.tokens import Where, Words, blocks

LARGEST_INDEX = 2**31 - 1
STOPPED = "Reading was stopped. Nothing was changed."
UNREADABLE = "The {} file holds a corner that is not three numbers: {!r}."


def _words(data: bytes, progress: Progress | None, *, begin: int = 0) -> Iterator[Words]:
    for end, block in blocks(data, begin=begin):
        yield Words.of(block)
        tell(progress, end / len(data), STOPPED)


def _corners(words: Words, lines: Mask, kind: str, *, skip: int = 1) -> Array:
    """(k, 3) float64: three numbers of each of these lines, after `skip` words."""
    place = words.place - skip
    wanted = lines[words.line] & (place >= 0) & (place < 3)
    short = lines & (words.count < skip + 3)
    if short.any():
        raise MeshError(UNREADABLE.format(kind, words.said(np.argmax(short))))
    try:
        return words.numbers(wanted).reshape(-1, 3)
    except ValueError:
        said = _first(words, lines, lambda line: not _is_corner(line, skip))
        raise MeshError(UNREADABLE.format(kind, said)) from None


def _first(words: Words, lines: Mask, is_bad: Callable[[str], bool]) -> str:
    """The first of these lines that is bad, or the first of all when none looks it."""
    said = [words.said(i) for i in np.flatnonzero(lines)]
    return next((line for line in said if is_bad(line)), said[0])


def _is_corner(line: str, skip: int) -> bool:
    try:
        return len([float(word) for word in line.split()[skip : skip + 3]]) == 3
    except ValueError:
        return False


def _stacked(parts: list[Array]) -> Array:
    return np.concatenate(parts) if parts else np.zeros((0, 3))


def read_text_stl(data: bytes, progress: Progress | None = None) -> RawMesh:
    """The triangles of a text STL file.

    Parameters
    ----------
    data : bytes of the whole file
    progress : called with the share read [0..1]; may stop it
    """
    if b"endsolid" not in data[-4096:].lower():
        raise MeshError("The text STL file is cut short: its end is missing.")
    # each triangle has "vertex" three times; a name may hold the word too
    if data.count(b"vertex") + data.count(b"VERTEX") > 3 * MOST_FACES + 1000:
        raise MeshError(too_many())
    parts = [_corners(w, w.begin_with(b"vertex"), "STL") for w in _words(data, progress)]
    corners = _stacked(parts)
    if len(corners) % 3:
        raise MeshError("The text STL file is damaged: a triangle has fewer than three corners.")
    return soup(corners)


def read_obj(data: bytes, progress: Progress | None = None) -> RawMesh:
    """The triangles of an OBJ file; faces with more corners are cut into fans.

    Parameters
    ----------
    data : bytes of the whole file
    progress : called with the share read [0..1]; may stop it
    """
    if data.count(b"\nf ") > MOST_FACES:
        raise MeshError(too_many())
    corners: list[Array] = []
    faces: list[Ints] = []
    known = found = 0
    for words in _words(data, progress):
        is_corner = words.begin_with(b"v")
        before = known + np.cumsum(is_corner)
        corners.append(_corners(words, is_corner, "OBJ"))
        faces.append(_obj_faces(words, before))
        known, found = known + len(corners[-1]), found + len(faces[-1])
        if found > MOST_FACES:
            raise MeshError(too_many())
    if not known or not found:
        raise MeshError("The OBJ file holds no triangles; a mesh needs at least one.")
    return RawMesh(np.concatenate(corners), np.concatenate(faces))


def _obj_faces(words: Words, before: Where) -> Ints:
    """(m, 3) int32: triangles of a block.

    Parameters
    ----------
    before : (l,) int, corners known up to each line: numbers below 0 count back from there
    """
    is_face = words.begin_with(b"f")
    if (is_face & (words.count < 4)).any():
        raise MeshError("The OBJ file has a face with fewer than three corners.")
    wanted = is_face[words.line] & (words.place > 0)
    try:
        index = _whole(words, wanted, ends=_before_slash(words))
        if (index == 0).any():
            raise ValueError("corners are counted from 1")
    except ValueError:
        said = _first(words, is_face, lambda line: not _is_face(line))
        raise MeshError(f"The OBJ file has a face Haze cannot read: {said!r}.") from None
    index = np.where(index > 0, index - 1, before[words.line[wanted]] + index)
    return _fans(index, words.count[is_face] - 1)


def _before_slash(words: Words) -> Where:
    """(w,) where each word ends when it is cut at its first slash."""
    slashes = np.flatnonzero(words.text == ord("/"))
    if not len(slashes):
        return words.ends
    nearest = slashes[np.minimum(np.searchsorted(slashes, words.starts), len(slashes) - 1)]
    cut = (nearest >= words.starts) & (nearest < words.ends)
    return np.where(cut, nearest, words.ends)


def _is_face(line: str) -> bool:
    try:
        return all(int(word.split("/")[0]) for word in line.split()[1:])
    except ValueError:
        return False


def _whole(words: Words, wanted: Mask, *, ends: Where | None = None) -> Where:
    """(k,) int64: corner numbers; `ValueError` for a word that is none."""
    with warnings.catch_warnings():
        warnings.simplefilter("ignore", DeprecationWarning)  # it tells of a bad word; counted below
        return words.whole_numbers(wanted, ends=ends)


def _fans(index: Where, corners: Where) -> Ints:
    """(m, 3) int32: faces cut into triangles around their first corner.

    Parameters
    ----------
    index : (k,) int, corners of all faces one after the other
    corners : (f,) int, how many each face has, at least 3
    """
    if len(index) and not -LARGEST_INDEX <= int(index.min()) <= int(index.max()) <= LARGEST_INDEX:
        raise MeshError("The mesh names corners it does not have; the file is damaged.")
    narrow = index.astype(np.int32)
    if (corners == 3).all():
        return narrow.reshape(-1, 3)
    triangles = corners - 2
    if triangles.sum() > MOST_FACES:
        raise MeshError(too_many())
    base = np.repeat(np.cumsum(corners) - corners, triangles)
    step = np.arange(len(base)) - np.repeat(np.cumsum(triangles) - triangles, triangles)
    return np.stack([narrow[base], narrow[base + step + 1], narrow[base + step + 2]], axis=1)


def read_text_ply(data: bytes, header: PlyHeader, progress: Progress | None = None) -> RawMesh:
    """The triangles of a PLY file in text.

    Parameters
    ----------
    data : bytes of the whole file
    header : what its first lines say
    progress : called with the share read [0..1]; may stop it
    """
    vertex, face = header.element("vertex"), header.element("face")
    vertex_from, face_from = header.rows_before("vertex"), header.rows_before("face")
    place = vertex.scalars_from("x", "y", "z")
    corners: list[Array] = []
    faces: list[Ints] = []
    seen = 0
    for words in _words(data, progress, begin=header.size):
        row = seen + np.arange(len(words.first))
        seen += len(row)
        is_vertex = (row >= vertex_from) & (row < vertex_from + vertex.count)
        corners.append(_corners(words, is_vertex, "PLY", skip=place))
        is_face = (row >= face_from) & (row < face_from + face.count)
        faces.append(_ply_faces(words, is_face, skip=face.list_after()))
    if seen < header.rows_before(None):
        raise MeshError(
            f"The PLY file is cut short: it names {header.rows_before(None):,} lines and has "
            f"{seen:,}."
        )
    return RawMesh(np.concatenate(corners), np.concatenate(faces))


def _ply_faces(words: Words, lines: Mask, *, skip: int) -> Ints:
    """(m, 3) int32: triangles of these lines: a count, then so many corners."""
    said = words.place - skip
    try:
        corners = _whole(words, lines[words.line] & (said == 0))
        if len(corners) != lines.sum() or (corners < 3).any():
            raise MeshError("The PLY file has a face with fewer than three corners.")
        most = np.zeros(len(lines), dtype=np.int64)
        most[lines] = corners
        index = _whole(words, lines[words.line] & (said > 0) & (said <= most[words.line]))
    except ValueError:
        raise MeshError("The PLY file has a face that is not whole numbers.") from None
    if len(index) != corners.sum():
        raise MeshError("The PLY file has a face with fewer corners than it names.")
    return _fans(index, corners)
