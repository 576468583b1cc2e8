"""Doing a plan again: on another piece, with other gear, in another room, from another shelf."""
