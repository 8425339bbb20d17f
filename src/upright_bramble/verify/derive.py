"""How the number of each check was found: its rule evaluated once more with everything written down, told at
the one place of the check."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from upright_bramble.codes.rules import Rule
from upright_bramble.verify.facts import Facts
from upright_bramble.verify.result import Check, Result
from upright_bramble.verify.run import rules_of
from upright_bramble.working import Line, Made, Record, Working, at_station, leading_to, lines_of, recording

UNITS = {
    "moment": "N mm",
    "force": "N",
    "length": "mm",
    "crack": "mm",
    "area": "mm2",
    "steel per length": "mm2/mm",
    "stress": "MPa",
    "steel stress": "MPa",
}
DEMAND, LIMIT = "design effect or requirement", "provided or permitted"


class Workings:
    """Derivations of the checks of one verification; each rule is evaluated once."""

    def __init__(self, f: Facts) -> None:
        self.f = f
        self._rules = {kind.id: rule for rule in rules_of(f.code) for kind in rule.kinds}
        self._records: dict[str, Record] = {}

    def of(self, check: Check) -> Working:
        """The derivation of one check."""
        made = self._record(self._rules[check.kind.id]).checks[check.id]
        lines = self._lines(check, made)
        return Working(check.id, check.kind.sought, (*lines, *self._compared(check, lines)))

    def _record(self, rule: Rule) -> Record:
        if rule.name not in self._records:
            with recording() as record:
                rule.evaluate(self.f)
            self._records[rule.name] = record
        return self._records[rule.name]

    def _lines(self, check: Check, made: Made) -> list[Line]:
        """What all checks of the rule share, what is this one's own, and what more there is to tell at its
        place."""
        entries = [*made.shared, *made.own]
        if made.detail is not None:
            with recording() as more:
                made.detail()
            entries += more
        units = self.f.code.words.units
        words = self.f.code.words
        result = lines_of(at_station(entries, check.station, len(self.f.at)), units=units)
        if words.renumbered:
            result = [replace(line, clause=words.source(line.clause)) for line in result]
        last = _once(result)
        if not made.of:
            return last
        unit = units.names.get(UNITS.get(check.quantity, ""), UNITS.get(check.quantity, ""))
        both = [units.of(v, UNITS.get(check.quantity, "")) for v in (check.demand, check.resistance)]
        # what a code calls by symbols of its own is known by its value
        own = {line.symbol for line in last if any(_is(line, v, unit) for v in both)}
        return leading_to(last, {*made.of, *own}) or last

    def _compared(self, check: Check, lines: list[Line]) -> list[Line]:
        """Both numbers as they are compared, where the lines do not end in them."""
        units, unit = self.f.code.words.units, UNITS.get(check.quantity, "")
        name = units.names.get(unit, unit)
        both = [
            (symbol, units.of(value, unit), text)
            for symbol, value, text in (
                ("demand", check.demand, DEMAND),
                ("limit", check.resistance, LIMIT),
            )
        ]
        result = [
            Line(symbol, shown, name, text)
            for symbol, shown, text in both
            if not any(_is(v, shown, name) for v in lines)
        ]
        if not result and not any(_is(lines[-1], shown, name) for _, shown, _ in both):
            result.append(Line(both[1][0], both[1][1], name, both[1][2]))
        return result


def _once(lines: Sequence[Line]) -> list[Line]:
    """A symbol that is told twice has its last value; where that is the same, it has the formula and clause
    of whichever line has them."""
    told: dict[str, Line] = {}
    for line in lines:
        before = told.get(line.symbol)
        if before is not None and before.clause and not line.clause and _is(before, line.value, line.unit):
            line = replace(before, text=line.text or before.text)
        told[line.symbol] = line
    return list(told.values())


def _is(line: Line, value: float, unit: str) -> bool:
    return line.unit == unit and abs(line.value - value) <= 1e-9 * max(abs(value), 1e-12)


def workings(result: Result) -> tuple[Working, ...]:
    """Derivations of all checks of a result, in their order; none where what they were made of was not
    kept."""
    if result.parts:
        made = {name: Workings(part.facts) for name, part in result.parts if part.facts is not None}
        return tuple(made[check.level].of(check) for check in result.checks if check.level in made)
    if result.facts is None:
        return ()
    each = Workings(result.facts)
    return tuple(each.of(check) for check in result.checks)
