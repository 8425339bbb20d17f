"""YAML 1.2, read safely: plain data only, no tags, no anchors, no aliases, limited in size and depth, lines
kept."""

from __future__ import annotations

import difflib
from collections.abc import Mapping
from dataclasses import dataclass, field
from functools import lru_cache
from pathlib import Path
from typing import Any

from upright_bramble.errors import Fault, InputFaults
from upright_bramble.files.reading import Unreadable, read_bytes, utf8
from upright_bramble.text import hidden, shown

MAXIMUM_BYTES = 512 * 1024
MAXIMUM_SEPARATORS = (
    30_000  # commas, colons and line ends: what a parser spends its time on, some 50 microseconds each
)
MAXIMUM_DEPTH = 24
Path_ = tuple[str | int, ...]


@dataclass(frozen=True)
class Source:
    """Plain data of a file, the line (from 1) on which each entry begins, and what is wrong whatever the
    entries mean.

    `origins`: of what came from another file (shared rules) that file's name and the place there.
    """

    name: str
    data: Any
    lines: Mapping[Path_, int]
    faults: tuple[Fault, ...] = ()
    origins: Mapping[Path_, tuple[str, Path_]] = field(default_factory=dict)

    def line(self, path: Path_) -> int:
        """Line of an entry, or of the nearest thing around it that the file has."""
        return self.lines.get(self._nearest(path), 1)

    def _nearest(self, path: Path_) -> Path_:
        while path and path not in self.lines:
            path = path[:-1]
        return path

    def fault(self, path: Path_, text: str) -> Fault:
        near = self._nearest(path)
        name, original = self.origins.get(near, (self.name, near))
        return Fault(name, self.line(path), spelled((*original, *path[len(near) :])), text)


def spelled(path: Path_) -> str:
    """line[3].span."""
    text = ""
    for part in path:
        text += f"[{part}]" if isinstance(part, int) else (f".{part}" if text else str(part))
    return text


def nearest(word: str, known: list[str]) -> str:
    """' (did you mean ...?)' or nothing."""
    close = difflib.get_close_matches(word, known, n=1, cutoff=0.6)
    return f"; did you mean '{close[0]}'?" if close else f" (valid: {', '.join(sorted(known))})"


def load_yaml(path: Path) -> Source:
    """Read a file. Raises InputFaults where it is no YAML at all; other faults are in the Source."""
    try:
        text = utf8(read_bytes(path, MAXIMUM_BYTES, "YAML file"))
    except Unreadable as error:
        raise InputFaults([Fault(str(path), 0, "", str(error))]) from None
    return parse_yaml(text, path.name)


@lru_cache(maxsize=64)
def parse_yaml(text: str, name: str) -> Source:
    """Text of a file as a Source; nobody changes its data. Raises InputFaults where it is no YAML at all."""
    from ruamel.yaml import YAML
    from ruamel.yaml.error import MarkedYAMLError, YAMLError
    from ruamel.yaml.reader import ReaderError

    if sum(text.count(c) for c in ",:\n\r") > MAXIMUM_SEPARATORS:
        raise InputFaults(
            [
                Fault(
                    name,
                    0,
                    "",
                    f"holds more than {MAXIMUM_SEPARATORS:,} values and lines; split it into several files",
                )
            ]
        )
    yaml = YAML(typ="safe", pure=True)
    yaml.Composer = _shallow()
    try:
        root = yaml.compose(text)
    except _TooDeep as error:
        raise InputFaults([Fault(name, error.line, "", "is nested too deeply")]) from None
    except MarkedYAMLError as error:
        mark = error.problem_mark or error.context_mark
        line = mark.line + 1 if mark is not None else 0
        raise InputFaults(
            [Fault(name, line, "", f"is not YAML: {error.problem or error.context or 'cannot be read'}")]
        ) from None
    except RecursionError:
        raise InputFaults([Fault(name, 0, "", "is nested too deeply")]) from None
    except ReaderError as error:
        line = text[: error.position].count("\n") + 1
        raise InputFaults([Fault(name, line, "", _STRANGE.format(f"U+{error.character:04X}"))]) from None
    except (YAMLError, ValueError, OverflowError) as error:
        first = (str(error).strip().splitlines() or ["cannot be read"])[0]
        raise InputFaults([Fault(name, 0, "", f"is not YAML: {first[:120]}")]) from None
    if root is None:
        raise InputFaults([Fault(name, 0, "", "is empty; `bramble start` writes one to begin with")])
    lines: dict[Path_, int] = {}
    faults: list[Fault] = []
    data = _plain(root, (), lines, faults, name)
    return Source(name, data, lines, tuple(faults))


class _TooDeep(Exception):
    def __init__(self, line: int) -> None:
        self.line = line


@lru_cache(maxsize=1)
def _shallow() -> Any:
    """A composer that goes no deeper than `MAXIMUM_DEPTH`: what the scanner does grows with the square of the
    depth."""
    from ruamel.yaml.composer import Composer

    class Shallow(Composer):
        depth = -1

        def compose_node(self, parent: Any, index: Any) -> Any:
            self.depth += 1
            if self.depth > MAXIMUM_DEPTH:
                raise _TooDeep(self.parser.peek_event().start_mark.line + 1)
            node = super().compose_node(parent, index)
            self.depth -= 1
            return node

    return Shallow


def _plain(node: Any, path: Path_, lines: dict[Path_, int], faults: list[Fault], name: str) -> Any:
    from ruamel.yaml.nodes import MappingNode, SequenceNode

    line = node.start_mark.line + 1
    lines[path] = line
    if node.anchor:
        faults.append(
            Fault(name, line, spelled(path), "anchors and aliases are not read; write the value out")
        )
        return None
    tag = str(node.tag or "")
    if not tag.startswith("tag:yaml.org,2002:") or tag.rsplit(":", 1)[-1] not in _TAGS:
        faults.append(
            Fault(name, line, spelled(path), f"the tag {tag[:40]} is not read; only plain values are")
        )
        return None
    if isinstance(node, MappingNode):
        result: dict[str, Any] = {}
        for key_node, value_node in node.value:
            key = getattr(key_node, "value", None)
            if not isinstance(key, str) or isinstance(key_node, (MappingNode, SequenceNode)):
                faults.append(
                    Fault(name, key_node.start_mark.line + 1, spelled(path), "a key must be a plain word")
                )
                continue
            if (strange := hidden(key)) is not None:
                faults.append(
                    Fault(
                        name,
                        key_node.start_mark.line + 1,
                        spelled(path),
                        f"the key {key[:40]!r} {_STRANGE.format(strange)}",
                    )
                )
                continue
            if key in result:
                where = spelled((*path, key))
                faults.append(
                    Fault(name, key_node.start_mark.line + 1, where, "is given twice; keep one of the two")
                )
                continue
            result[key] = _plain(value_node, (*path, key), lines, faults, name)
            lines[(*path, key)] = key_node.start_mark.line + 1
        return result
    if isinstance(node, SequenceNode):
        return [_plain(item, (*path, i), lines, faults, name) for i, item in enumerate(node.value)]
    # a block of lines is one text
    text = " ".join(node.value.split()) if node.style in ("|", ">") else node.value
    if (strange := hidden(text)) is not None:
        faults.append(Fault(name, line, spelled(path), _STRANGE.format(strange)))
        text = shown(text)
    return _scalar(text, tag.rsplit(":", 1)[-1])


_STRANGE = "holds the character {}, which is not text; take it out"
_TAGS = {"str", "int", "float", "bool", "null", "map", "seq", "timestamp", "value", "merge"}


def _scalar(text: str, kind: str) -> Any:
    if kind == "null":
        return None
    if kind == "bool":
        return text.lower() == "true"
    try:
        if kind == "int":
            return int(text.replace("_", ""), 0) if len(text) < 40 else float(text)
        if kind == "float":
            return float(
                text.replace("_", "")
                .replace(".inf", "inf")
                .replace(".Inf", "inf")
                .replace(".nan", "nan")
                .replace(".NaN", "nan")
            )
    except ValueError:
        return text
    return text
