"""Forces found elsewhere: tables of factored forces, and of forces by action."""

from __future__ import annotations

from dataclasses import replace

from upright_bramble import beam as b
from upright_bramble.analysis.by_action import ActionForces, cautions_of, combined_lines
from upright_bramble.codes import DesignCode
from upright_bramble.core.quantities import worded
from upright_bramble.files.action_table import ActionTable, action_table, names_actions
from upright_bramble.files.beam.reading import Reading
from upright_bramble.files.folders import inside, outside_text
from upright_bramble.files.force_table import MAXIMUM_LINES, SpanOf, read_table
from upright_bramble.files.table_rows import read_rows
from upright_bramble.files.yaml_source import Path_, nearest


def given_forces(
    r: Reading, code: DesignCode, supports: tuple[b.Support, ...], spans: tuple[b.Span, ...]
) -> dict[str, tuple[b.ForceLine, ...]]:
    """Force tables by level; several of a level are laid over one another."""
    g = r.given.forces
    if g is None:
        if not r.given.actions and "forces" not in r.source.data:
            r.wrong(("actions",), "there is nothing to design for: give 'actions', or 'forces' from tables")
        return {}
    if r.given.actions:
        r.wrong(("actions",), "'actions' and 'forces' do not go together; leave one out")
    covered = _spans_covered(supports, spans)
    strength = g.strength if isinstance(g.strength, list) else [g.strength]
    wanted: list[tuple[str, Path_, str]] = [
        (code.actions.levels[0], ("forces", "strength"), t.table) for t in strength
    ]
    for level, tables in g.service.items():
        if level not in (*code.actions.levels[1:], "permanent"):
            known = ", ".join((*code.actions.levels[1:], "permanent"))
            r.wrong(("forces", "service", level), f"is not a valid service level (valid: {known})")
            continue
        wanted += [
            (level, ("forces", "service", level), t)
            for t in (tables if isinstance(tables, list) else [tables])
        ]
    result: dict[str, tuple[b.ForceLine, ...]] = {}
    several = {level for level, _, _ in wanted if sum(level == other for other, _, _ in wanted) > 1}
    for level, path, table in wanted:
        lines = _table(r, path, table, covered, level in several)
        if lines:
            result[level] = (*result.get(level, ()), *lines)
    if r.given.redistribution and not all(line.together for line in result.get(code.actions.levels[0], ())):
        r.wrong(
            ("redistribution",),
            "extremes cannot be redistributed: it needs a strength table with a row a combination and "
            "station",
        )
    return result


def _table(r: Reading, path: Path_, name: str, covered: SpanOf, several: bool) -> list[b.ForceLine]:
    file = inside(r.folder, name, r.root)
    if file is None:
        r.wrong(path, outside_text(name, r.folder, r.root))
        return []
    lines, faults = read_table(file, covered, several)
    if faults and faults[0].text.startswith("cannot be read"):
        r.wrong(path, f"'{name[:60]}' {faults[0].text}")
    else:
        r.faults += [replace(f, text=worded(f.text, r.units)) for f in faults]
    return lines


def forces_by_action(
    r: Reading,
    code: DesignCode,
    supports: tuple[b.Support, ...],
    spans: tuple[b.Span, ...],
    actions: tuple[b.Action, ...],
    combining: b.Combining,
) -> tuple[tuple[b.Action, ...], dict[str, tuple[b.ForceLine, ...]]]:
    """Unfactored forces of every action, combined by the code, by level; several analyses are laid over
    one another."""
    _tables_alone(r, supports, actions)
    if r.faults:
        return actions, {}
    sets = max(len(a.tables) for a in actions)
    read = _Tables(r, _spans_covered(supports, spans))
    result: dict[str, tuple[b.ForceLine, ...]] = {}
    lines: dict[str, tuple[b.ForceLine, ...]] = {}
    for number in range(sets):
        forces = [read.forces(i, a, a.tables[min(number, len(a.tables) - 1)]) for i, a in enumerate(actions)]
        known = [f for f in forces if f is not None]
        if len(known) < len(actions):
            continue
        suffix = f"; {max((a.tables for a in actions), key=len)[number]}" if sets > 1 else ""
        for level, more in combined_lines(known, combining, code, suffix).items():
            result[level] = (*result.get(level, ()), *more)
        for f in known:
            lines[f.action.name] = (
                *lines.get(f.action.name, ()),
                replace(f.line, label=f"{f.action.name}{suffix}"),
            )
        r.cautions += cautions_of(known, spans)
    if any(len(own) > MAXIMUM_LINES for own in result.values()):
        r.wrong(("actions",), f"make more than {MAXIMUM_LINES:,} combinations; join what acts together")
    r.cautions += read.unused()
    return tuple(replace(a, lines=lines.get(a.name, ())) for a in actions), result


def _tables_alone(r: Reading, supports: tuple[b.Support, ...], actions: tuple[b.Action, ...]) -> None:
    """Every action has one table, or as many as there are analyses, and nothing beside them makes forces."""
    if r.given.forces is not None:
        r.wrong(("forces",), "the forces come from the tables of the actions; leave it out")
    if any(s.settles for s in supports):
        r.wrong(("line",), "with forces from tables a settlement is an action of theirs; leave 'settles' out")
    for i, (a, given) in enumerate(zip(actions, r.given.actions, strict=True)):
        if not a.tables:
            text = "has loads, and other actions have tables: the tables of an analysis hold all actions"
            r.wrong(("actions", i), f"{text}, or none")
        elif given.loads or given.self_weight:
            r.wrong(("actions", i), "give its 'table', or loads and self weight; not both")
        if given.acts_from is not None:
            r.wrong(("actions", i, "acts_from"), "is not known of forces from tables; leave it out")
    sets = max(len(a.tables) for a in actions)
    for i, a in enumerate(actions):
        if len(a.tables) not in (1, sets):
            text = f"names {len(a.tables)} tables where another action names {sets}: one, or as many"
            r.wrong(("actions", i, "table"), text)


def _spans_covered(supports: tuple[b.Support, ...], spans: tuple[b.Span, ...]) -> SpanOf:
    """Names and lengths of the spans, as tables are held against them."""
    names = {str(k + 1): k for k in range(len(spans))}
    for k, s in enumerate(spans):
        if s.left is not None and s.right is not None:
            names[f"{supports[s.left].name}-{supports[s.right].name}"] = k
    return SpanOf(names, tuple(s.length for s in spans))


class _Tables:
    """Tables by action, each read once."""

    def __init__(self, reader: Reading, covered: SpanOf) -> None:
        self.reader, self.covered = reader, covered
        self.read: dict[tuple[str, str], ActionTable] = {}
        self.used: dict[str, set[str]] = {}

    def forces(self, i: int, action: b.Action, name: str) -> ActionForces | None:
        """Of an action from one of its tables; None with the faults noted."""
        reader, path = self.reader, ("actions", i, "table")
        file = inside(reader.folder, name, reader.root)
        if file is None:
            reader.wrong(path, outside_text(name, reader.folder, reader.root))
            return None
        rows, faults = read_rows(file)
        if rows is None:
            reader.wrong(path, f"'{name[:60]}' {faults[0].text}")
            return None
        named = names_actions(rows)
        key = (name, "" if named else action.name)
        if key not in self.read:
            self.read[key] = action_table(rows, self.covered, reader.given.mark, "" if named else action.name)
            reader.faults += [replace(f, text=worded(f.text, reader.units)) for f in self.read[key].faults]
        table = self.read[key]
        self.used.setdefault(name, set()).add(action.name)
        if action.name not in table.lines:
            if not table.faults:
                known = ", ".join(list(table.lines)[:12])
                reader.wrong(
                    path,
                    f"'{name[:60]}' has no action "
                    f"'{action.name[:40]}'{nearest(action.name, list(table.lines))} (has: {known})",
                )
            return None
        return ActionForces(action, table.lines[action.name])

    def unused(self) -> list[str]:
        """Actions of tables that the beam file does not name: they would be lost without a word."""
        result = []
        for (name, single), table in self.read.items():
            rest = [a for a in table.lines if a not in self.used[name]]
            if rest and not single:
                result.append(
                    f"{name} has actions that the beam file does not name, and that are left out: "
                    f"{', '.join(rest[:12])}"
                )
        return result
