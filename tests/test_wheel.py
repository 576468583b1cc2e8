"""What is packaged can be installed and started without Node and without the source tree."""

from __future__ import annotations

import re
import shutil
import subprocess
import sys
import sysconfig
import tarfile
import venv
import zipfile
from pathlib import Path
from urllib.request import urlopen

import pytest

ROOT = Path(__file__).parents[1]
FILES = ("pyproject.toml", "setup.py", "MANIFEST.in", "README.md", "LICENSE")
STATIC = Path("src", "haze", "web", "static")


def copied(folder: Path) -> Path:
    """The tree as it is packaged: nothing is built in the one that is worked in."""
    for name in FILES:
        shutil.copy(ROOT / name, folder)
    left_out = shutil.ignore_patterns("__pycache__", "*.egg-info")
    shutil.copytree(ROOT / "src", folder / "src", ignore=left_out)
    return folder


def built(folder: Path, what: str) -> subprocess.CompletedProcess[str]:
    command = [sys.executable, "-m", "build", "--no-isolation", f"--{what}", "--outdir", "out", "."]
    return subprocess.run(command, cwd=folder, capture_output=True, text=True)


@pytest.mark.parametrize("missing", ["index.html", "licences.txt"])
@pytest.mark.parametrize("what", ["wheel", "sdist"])
def test_nothing_is_packaged_without_its_page(tmp_path: Path, what: str, missing: str) -> None:
    tree = copied(tmp_path)
    (tree / STATIC / missing).unlink()
    run = built(tree, what)
    assert run.returncode != 0
    assert "The page is not built" in run.stderr + run.stdout
    assert not list(tree.glob("out/*"))


def test_the_source_archive_has_the_page(tmp_path: Path) -> None:
    tree = copied(tmp_path)
    assert built(tree, "sdist").returncode == 0
    [archive] = tree.glob("out/*.tar.gz")
    with tarfile.open(archive) as held:
        inside = {name.split("/", 1)[-1] for name in held.getnames()}
    assert {str(STATIC / "index.html"), "setup.py", "LICENSE"} <= inside


@pytest.mark.thorough
def test_an_installed_wheel_serves_the_demo(tmp_path: Path) -> None:
    tree = tmp_path / "tree"
    tree.mkdir()
    run = built(copied(tree), "wheel")
    assert run.returncode == 0, run.stderr
    [wheel] = (tree / "out").glob("*.whl")
    inside = zipfile.ZipFile(wheel)
    names = set(inside.namelist())
    assert {"haze/web/static/index.html", "haze/py.typed"} <= names
    assert any(n.startswith("haze/store/migrations/") for n in names)
    licences = inside.read("haze/web/static/licences.txt").decode()
    for part in (
        "element-plus",
        "three",
        "@vue/runtime-core",
        "@fontsource-variable/atkinson-hyperlegible-next",
    ):
        assert re.search(rf"^{part} [0-9.]+ \(", licences, re.MULTILINE)

    venv.create(tmp_path / "fresh", with_pip=True)
    python = tmp_path / "fresh" / "bin" / "python"
    # what Haze needs is taken from here, so that nothing is fetched; Haze itself is not: a path in
    # a .pth file does not bring the other .pth files along by which this tree is installed
    packages = next((tmp_path / "fresh" / "lib").glob("*/site-packages"))
    (packages / "needs.pth").write_text(sysconfig.get_paths()["purelib"] + "\n")
    pip = [str(python), "-m", "pip", "install", "--quiet", "--no-deps", "--no-index", str(wheel)]
    subprocess.run(pip, check=True)
    options = ("--no-browser", "--on-demand", "--port", "0", "--data", str(tmp_path / "data"))
    served = subprocess.Popen(
        [python.with_name("haze"), "demo", *options],
        cwd=tmp_path,
        env={"PATH": "/nowhere", "HOME": str(tmp_path)},
        stdout=subprocess.PIPE,
        text=True,
    )
    try:
        assert served.stdout is not None
        found = re.search(r"http://\S+", served.stdout.readline())
        assert found is not None
        page = urlopen(found.group()).read().decode()
        script = re.search(r'src="/(assets/[^"]+\.js)"', page)
        assert script is not None
        assert urlopen(found.group() + script.group(1)).status == 200
        assert "Wardens" in urlopen(found.group() + "api/plans").read().decode()
        where = [str(python), "-c", "import haze; print(haze.__file__)"]
        place = subprocess.run(where, capture_output=True, text=True, cwd=tmp_path, check=True)
        assert place.stdout.startswith(str(tmp_path))
    finally:
        served.kill()
        served.wait()
