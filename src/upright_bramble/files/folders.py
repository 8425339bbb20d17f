"""Files that a file names: they lie inside one folder, and a name cannot lead out of it."""

from __future__ import annotations

from pathlib import Path


def root_of(folder: Path, root: Path | None = None) -> Path:
    """The folder that names in a file may not lead out of: `root`, or the folder above the file's; the
    working folder where the file lies inside it and it is wider.

    >>> root_of(Path("/job/level-1"), Path("/job")).as_posix()
    '/job'
    """
    if root is not None:
        return root.resolve()
    above, here = folder.resolve().parent, Path.cwd().resolve()
    return here if above.is_relative_to(here) else above


def inside(folder: Path, name: str, root: Path | None = None) -> Path | None:
    """The file that `name` leads to from `folder`, links followed; None where it lies outside the root.

    >>> inside(Path("/job/level-1"), "../../secret", Path("/job")) is None
    True
    """
    file = (folder / name).resolve()
    return file if file.is_relative_to(root_of(folder, root)) else None


def outside_text(name: str, folder: Path, root: Path | None = None) -> str:
    """What is wrong with such a name, and what to do."""
    return (
        f"'{name[:60]}' lies outside {root_of(folder, root).name or 'the root folder'}; move it inside, or "
        "allow a wider folder with --root"
    )
