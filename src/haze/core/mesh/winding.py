"""Make all faces look outward: agree along shared edges, then let visibility vote for each patch.

Scanned and sculpted meshes come with flipped faces and turned-over patches; a face that looks
inward would be taken for a dark one (docs/models.md B1).
"""

from __future__ import annotations

import numpy as np
from trimesh.graph import connected_component_labels

from haze.core.arrays import Array, Ints, Longs, Mask
from haze.core.directions import fibonacci_directions
from haze.core.mesh.scene import OFFSET, Scene

VOTERS = 48  # faces of one patch that are asked
VOTE_DIRECTIONS = 48
MOST_VOTERS = 60_000


def shared_edges(faces: Ints) -> tuple[Longs, Longs, Mask]:
    """Pairs of faces that share an edge of exactly two faces, and whether both run it alike.

    Two faces that look to the same side run their shared edge in opposite senses.
    """
    count = len(faces)
    start = faces[:, [0, 1, 2]].T.ravel().astype(np.int64)
    end = faces[:, [1, 2, 0]].T.ravel().astype(np.int64)
    owner = np.tile(np.arange(count, dtype=np.int64), 3)
    low, high = np.minimum(start, end), np.maximum(start, end)
    key = low * (int(faces.max()) + 1) + high
    order = np.argsort(key, kind="stable")
    key, owner, forward = key[order], owner[order], (start < end)[order]
    first = np.flatnonzero(np.r_[True, key[1:] != key[:-1]])
    length = np.diff(np.r_[first, len(key)])
    pair = first[length == 2]
    return owner[pair], owner[pair + 1], forward[pair] == forward[pair + 1]


def agree(faces: Ints) -> tuple[Ints, Longs]:
    """Faces turned so that neighbours agree, and the (m,) patch each belongs to.

    Every face is a node twice, as it is and turned over; an edge joins the nodes that agree. What
    hangs together with the lowest face of a patch as it is, stays; the rest of it is turned.

    Parameters
    ----------
    faces : (m, 3) int, corners of each triangle
    """
    count = len(faces)
    a, b, alike = shared_edges(faces)
    to = np.where(alike, b + count, b)
    turned_to = np.where(alike, b, b + count)
    joined = np.stack([np.r_[a, a + count], np.r_[to, turned_to]], axis=1)
    node = connected_component_labels(joined, node_count=2 * count)
    as_is, turned = node[:count], node[count:]
    patch_key = np.minimum(as_is, turned)
    _, first, patch = np.unique(patch_key, return_index=True, return_inverse=True)
    keeps = as_is == as_is[first][patch]
    out = faces.copy()
    out[~keeps] = out[~keeps][:, ::-1]
    return out, patch.ravel().astype(np.int64)


def _voters(area: Array, patch: Longs, patches: int) -> Longs:
    """Faces that vote: the largest few of every patch, spread by area."""
    each = int(np.clip(MOST_VOTERS // max(patches, 1), 1, VOTERS))
    order = np.lexsort((-area, patch))
    start = np.flatnonzero(np.r_[True, patch[order][1:] != patch[order][:-1]])
    size = np.diff(np.r_[start, len(order)])
    take = np.minimum(size, each)
    slots = [start + (size * i) // (2 * take) for i in range(each)]
    keep = [i < take for i in range(each)]
    picked = np.concatenate([s[k] for s, k in zip(slots, keep, strict=True)])
    return np.unique(order[picked])


def vote(vertices: Array, faces: Ints, patch: Longs) -> Mask:
    """(patches,) bool: whether a patch sees more of the outside from its back than its front.

    Rays leave sampled faces to both sides; the side from which more of them get away is out. A
    patch that no ray leaves (a buried shell) goes by the volume it encloses.

    Parameters
    ----------
    vertices : (n, 3) float [mesh unit]
    """
    patches = int(patch.max()) + 1
    a, b, c = (vertices[faces[:, i]] for i in range(3))
    cross = np.cross(b - a, c - a)
    area = np.linalg.norm(cross, axis=1)
    chosen = _voters(area, patch, patches)
    normal = cross[chosen] / np.maximum(area[chosen], 1e-30)[:, None]
    centre = (a[chosen] + b[chosen] + c[chosen]) / 3
    scene = Scene(vertices.astype(np.float32), faces)
    directions = fibonacci_directions(VOTE_DIRECTIONS)
    tally = np.zeros(len(chosen))
    lift = (2 * OFFSET * normal).astype(np.float32)
    for d in directions:
        cosine = normal @ d
        front = cosine > 0
        origin = centre.astype(np.float32) + np.where(front[:, None], lift, -lift)
        free = ~scene.blocked(origin, d[None, :].astype(np.float32))
        tally += np.where(free, cosine, 0.0)
    score = np.bincount(patch[chosen], weights=tally * area[chosen], minlength=patches)
    volume = np.bincount(patch, weights=np.einsum("ij,ij->i", a, np.cross(b, c)), minlength=patches)
    unseen = np.bincount(patch[chosen], weights=np.abs(tally), minlength=patches) == 0
    return np.asarray(np.where(unseen, volume < 0, score < 0))


def face_outward(vertices: Array, faces: Ints) -> Ints:
    """Faces turned so that every patch looks out of the piece.

    Parameters
    ----------
    vertices : (n, 3) float, scaled to a diagonal of 100, corners merged
    faces : (m, 3) int32
    """
    faces, patch = agree(faces)
    wrong = vote(vertices, faces, patch)[patch]
    out = faces.copy()
    out[wrong] = out[wrong][:, ::-1]
    return np.ascontiguousarray(out)
