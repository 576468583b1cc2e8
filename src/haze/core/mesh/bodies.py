"""Bodies of a mesh: what hangs together, named by a face of the original file.

A body is known by the lowest number of its faces in the file as it was read, so that a plan still
means the same body when preparation changes (docs/models.md part 0).
"""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray
from scipy.spatial import cKDTree
from trimesh.graph import connected_component_labels

from haze.core.arrays import Array, Ints

TINY_SHARE = 0.004  # bodies below this share of the surface join the nearest larger one
MOST_GROUPS = 24
SURE_WITHIN = 1e-4  # [units] at which a corner is as good as the old one


def components(faces: Ints, vertices: int) -> Ints:
    """(vertices,) int32: number of the connected piece each vertex belongs to.

    Parameters
    ----------
    faces : (m, 3) int, corners of each triangle
    """
    edges = np.concatenate([faces[:, [0, 1]], faces[:, [1, 2]]])
    return np.asarray(connected_component_labels(edges, node_count=vertices), dtype=np.int32)


def body_of_vertices(faces: Ints, face_number: Ints, vertices: int) -> Ints:
    """(vertices,) int32: lowest original face number of the body each vertex belongs to.

    Parameters
    ----------
    faces : (m, 3) int32, merged
    face_number : (m,) int32, number of each face in the original file
    """
    label = components(faces, vertices)
    lowest = np.full(int(label.max()) + 1, np.iinfo(np.int32).max, dtype=np.int32)
    np.minimum.at(lowest, label[faces[:, 0]], face_number)
    return lowest[label]


def carry_over(vertices: Array, faces: Ints, *, old_vertices: Array, old_body: Ints) -> Ints:
    """(n,) int32: bodies of a changed mesh, by where most of each connected piece came from.

    Parameters
    ----------
    vertices : (n, 3) float [mesh unit]
    faces : (m, 3) int, corners of each triangle
    old_vertices : (k, 3) float [mesh unit]
    old_body : (k,) int, body of each old vertex
    """
    label = components(faces, len(vertices))
    distance, nearest = cKDTree(old_vertices).query(vertices)
    found = old_body[nearest]
    # a coarse body has few corners of its own: only what lies near an old corner may speak
    weight = 1.0 / (distance + SURE_WITHIN)
    order = np.lexsort((found, label))
    fresh = np.flatnonzero(np.r_[True, (np.diff(label[order]) != 0) | (np.diff(found[order]) != 0)])
    votes = np.add.reduceat(weight[order], fresh)
    piece, body = label[order][fresh], found[order][fresh]
    best = np.lexsort((votes, piece))
    last = best[np.r_[np.diff(piece[best]) != 0, True]]
    winner = np.empty(int(label.max()) + 1, dtype=np.int32)
    winner[piece[last]] = body[last]
    return winner[label]


def groups(vertices: Array, body: Ints, area: NDArray[np.floating]) -> list[list[int]]:
    """Bodies grouped to parts, largest first; tiny ones join the larger body next to them.

    Parameters
    ----------
    vertices : (n, 3) float
    body : (n,) int32
    area : (n,) float, surface around each vertex
    """
    names, index = np.unique(body, return_inverse=True)
    surface = np.bincount(index, weights=area)
    ranked = np.argsort(-surface, kind="stable")
    large = ranked[surface[ranked] >= TINY_SHARE * surface.sum()][:MOST_GROUPS]
    if not len(large):
        large = ranked[:1]
    out = {int(i): [int(names[i])] for i in large}
    small = np.setdiff1d(ranked, large)
    if len(small):
        is_large = np.isin(index, large)
        tree = cKDTree(vertices[is_large])
        owner = index[is_large]
        asked = np.flatnonzero(~is_large)
        distance, near = tree.query(vertices[asked])
        order = np.lexsort((distance, index[asked]))
        first = np.flatnonzero(np.r_[True, index[asked][order][1:] != index[asked][order][:-1]])
        for at in order[first]:
            out[int(owner[near[at]])].append(int(names[index[asked[at]]]))
    return [out[int(i)] for i in large]
