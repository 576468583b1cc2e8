"""Derive the twelve-band colour matrix of core/film/spectra.py from CIE data.

Run it to print the rows; a test compares them with the embedded ones.
"""

from __future__ import annotations

import warnings

import numpy as np

EDGES_NM = np.arange(400, 701, 25)


def band_matrix() -> np.ndarray:
    """(12, 3) float: D65 × CIE 1931 2° observer × XYZ→linear sRGB, summed per band.

    The end bands take the tails below 400 nm and above 700 nm; columns are normalised to 1, so
    that a flat reflectance of 1 gives linear (1, 1, 1).
    """
    with warnings.catch_warnings():
        warnings.simplefilter("ignore")
        import colour

        shape = colour.SpectralShape(360, 830, 1)
        observer = colour.MSDS_CMFS["CIE 1931 2 Degree Standard Observer"].copy().align(shape)
        light = colour.SDS_ILLUMINANTS["D65"].copy().align(shape)
        to_rgb = colour.RGB_COLOURSPACES["sRGB"].matrix_XYZ_to_RGB
    response = (observer.values * light.values[:, None]) @ to_rgb.T
    band = np.clip((observer.wavelengths - 400) // 25, 0, 11).astype(int)
    rows = np.zeros((12, 3))
    np.add.at(rows, band, response)
    return rows / rows.sum(axis=0)


if __name__ == "__main__":
    for row in band_matrix():
        print("    (" + ", ".join(f"{v:.8f}" for v in row) + "),")
