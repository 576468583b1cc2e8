"""Build commands that refuse to package Haze without the page it serves; the rest is pyproject."""

from __future__ import annotations

from pathlib import Path

from setuptools import setup
from setuptools.command.build_py import build_py
from setuptools.command.sdist import sdist

STATIC = Path(__file__).parent / "src" / "haze" / "web" / "static"
NEEDED = (STATIC / "index.html", STATIC / "licences.txt")


def require_page() -> None:
    """Stop with one sentence when the page, or the licences of what it carries, are not built."""
    if not all(path.exists() for path in NEEDED):
        raise SystemExit(
            "The page is not built: `make wheel` builds it first, with Node 20 and npm."
        )


class BuildWithPage(build_py):
    """An editable install may come before the page is built."""

    def run(self) -> None:
        if not self.editable_mode:
            require_page()
        super().run()


class SourceWithPage(sdist):
    def run(self) -> None:
        require_page()
        super().run()


setup(cmdclass={"build_py": BuildWithPage, "sdist": SourceWithPage})
