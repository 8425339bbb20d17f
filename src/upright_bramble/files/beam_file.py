"""A beam file becomes a Beam: names resolved, units gone, every fault found in one go."""

from __future__ import annotations

import difflib
import re
from dataclasses import replace
from pathlib import Path

from upright_bramble import beam as b
from upright_bramble.analysis import sized
from upright_bramble.analysis.by_action import ActionForces, cautions_of, combined_lines
from upright_bramble.analysis.flanges import with_flanges
from upright_bramble.analysis.line import solve
from upright_bramble.codes import DesignCode, get_code, known_codes
from upright_bramble.codes.parts import CoverWish
from upright_bramble.core.quantities import SYSTEMS, UnitSystem, across, along, parse, worded
from upright_bramble.core.topics import TOPICS
from upright_bramble.errors import CodeError, Fault, InputFaults, UnitError, UnstableLine
from upright_bramble.files import models as m
from upright_bramble.files.action_table import ActionTable, action_table, names_actions
from upright_bramble.files.alike_file import alike_beam
from upright_bramble.files.faults import partly_validated
from upright_bramble.files.folders import inside, outside_text
from upright_bramble.files.force_table import MAXIMUM_LINES, SpanOf, read_table
from upright_bramble.files.materials import concrete_of, steels_of
from upright_bramble.files.rules import with_rules
from upright_bramble.files.table_rows import read_rows
from upright_bramble.files.yaml_source import Path_, Source, load_yaml, nearest, spelled
from upright_bramble.section.outline import narrowest_between, parted, polygon

BAND = 60.0  # inside the cover: where stirrup and bars of a face lie, mm
LONGEST = 100_000.0
THICKEST = 5_000.0
MINIMUM_SHARE, MAXIMUM_SHARE = 20.0, 10_000.0  # of a span, as limits of deflection
MAXIMUM_LOADS = 2_500  # on all spans together
MAXIMUM_VARIABLE = (
    30  # variable actions that combine independently: their combinations grow with the square of their number
)


def read_beam(path: str | Path, root: Path | None = None) -> b.Beam:
    """Read NAME.beam.yaml with what it names: shared rules and tables, inside `root` (the folder above the
    file's when left out).

    Raises InputFaults with all that is wrong in them.
    """
    source, folder = source_of(path, root), Path(path).parent
    if isinstance(source.data, dict) and "envelope_of" in source.data:
        return alike_beam(source, folder, root, read_beam)
    return beam_from(source, folder, root)


def source_of(path: str | Path, root: Path | None = None) -> Source:
    """A beam file with the rules that it shares. Raises InputFaults where it is no YAML."""
    return with_rules(load_yaml(Path(path)), Path(path).parent, root)


def beam_from(source: Source, folder: Path | None = None, root: Path | None = None) -> b.Beam:
    """A Beam from a loaded file; tables are looked for from `folder` on, inside `root`."""
    given, faults = partly_validated(m.BeamFile, source)
    if given is None:
        raise InputFaults(faults)
    return _Reader(source, given, faults, folder, root).beam()


class _Reader:
    """Collects faults while it builds."""

    def __init__(
        self, source: Source, given: m.BeamFile, faults: list[Fault], folder: Path | None, root: Path | None
    ) -> None:
        self.source, self.given, self.folder, self.root = source, given, folder or Path(), root
        self.faults = list(faults)
        self.told = {f.key for f in faults}
        self.units: UnitSystem = SYSTEMS[given.units]
        self.profiles = dict(given.profiles)
        self.cover = b.Cover(30.0, 30.0, 30.0)
        self.proposed: tuple[str, ...] = ()
        self.loads = 0
        self.cautions: list[str] = []

    def _guess_sizes(self) -> None:
        """Depths and widths left to the program, at first from the longest span of the profile alone."""
        longest: dict[str, float] = {}
        for entry in self.given.line:
            if isinstance(entry, m.SpanIn):
                for name in (
                    [entry.profile]
                    if isinstance(entry.profile, str)
                    else [entry.profile.from_, entry.profile.to]
                ):
                    longest[name] = max(longest.get(name, 0.0), entry.span)
        for name, p in self.given.profiles.items():
            depth = (
                sized.rounded_up(longest.get(name, 6000.0) / 14.0, self.units.step)
                if p.depth in ("auto", None)
                else p.depth
            )
            assert isinstance(depth, float)
            width = (
                max(sized.rounded_up(0.5 * depth, self.units.step), 8.0 * self.units.step)
                if p.width in ("auto", None)
                else p.width
            )
            self.profiles[name] = p.model_copy(update={"depth": depth, "width": width})

    def wrong(self, path: Path_, text: str) -> None:
        """Note a fault, unless the entry stands in for one that is told already."""
        fault = self.source.fault(path, worded(text, self.units))
        if not any(fault.key == key or fault.key.startswith((f"{key}.", f"{key}[")) for key in self.told):
            self.faults.append(fault)

    def beam(self) -> b.Beam:
        g = self.given
        code = self._code()
        if code is None:
            raise InputFaults(self.faults)
        concrete = concrete_of(g.concrete, code, self.units, self.wrong)
        bars, stirrups = steels_of(g.reinforcement, code, self.units, self.wrong)
        self._guess_sizes()
        detailing = self._detailing(code)
        self.cover = self._cover(code, detailing, concrete)
        profiles = {name: self._profile(name, p) for name, p in self.profiles.items()}
        supports, spans = self._line(profiles)
        actions = self._actions(code, supports, spans) if spans else ()
        combining = self._combining(code, actions)
        tabled = any(a.tables for a in actions)
        given: dict[str, tuple[b.ForceLine, ...]] = {}
        if spans and tabled:
            actions, given = self._by_action(code, supports, spans, actions, combining)
        elif spans:
            given = self._given(code, supports, spans)
        redistribution = self._redistribution(supports, spans)
        service = self._service(code)
        self._sizes(profiles, spans, supports, detailing, code)
        waived = self._waived()
        self._torsion(code)
        if self.faults:
            raise InputFaults(self.faults)
        beam = b.Beam(
            g.beam, g.mark, g.code, g.annex, dict(g.code_values), g.units, concrete, bars, stirrups,
            self.cover, supports, spans, actions, service, detailing,
            g.arrangements, combining, redistribution, given, g.torsion != "equilibrium", self.proposed,
            {key: value for key, value in g.about.model_dump().items() if value}, dict(g.remarks), waived,
            0.0 if g.bracing == "continuous" else g.bracing,
            None if g.integrity is None else g.integrity == "perimeter", g.lateral,
            origins={spelled(path): name for path, (name, _) in self.source.origins.items()},
            neglect={key: value for key, value in g.neglect.model_dump().items() if value}, accept=g.accept,
            quantity=g.quantity,
            cautions=tuple(dict.fromkeys(self.cautions)),
        )  # fmt: skip
        self._check_stability(beam, code)
        auto = {
            n: (p.depth == "auto", p.width == "auto")
            for n, p in g.profiles.items()
            if "auto" in (p.depth, p.width)
        }
        return sized.sized(beam, code, auto) if auto else beam

    def _torsion(self, code: DesignCode) -> None:
        """Torsion is left out only where the code lets that of compatibility be."""
        if self.given.torsion != "none":
            return
        clause = code.torsion.compatibility_left_out
        if not clause:
            self.wrong(
                ("torsion",), "this code has compatibility torsion reduced, not left out; say 'compatibility'"
            )
        else:
            self.cautions.append(
                f"torsion is left out: compatibility alone causes it, equilibrium does not need it ({clause})"
            )

    def _waived(self) -> dict[str, str]:
        """Reasons by topic."""
        for topic, reason in self.given.waive.items():
            if topic == "practice":
                self.wrong(
                    ("waive", topic),
                    "remarks decide nothing: there is nothing to waive; `report --without practice` leaves "
                    "them out",
                )
            elif topic not in TOPICS:
                self.wrong(
                    ("waive", topic),
                    f"'{topic[:40]}' is not a topic{nearest(topic, list(TOPICS))} (topics: "
                    f"{', '.join(TOPICS)})",
                )
            elif len(reason.strip()) < 4:
                self.wrong(("waive", topic), "give a reason, in words: every output shows it")
        return dict(self.given.waive)

    def _check_stability(self, beam: b.Beam, code: DesignCode) -> None:
        """Whether the supports hold the line. Raises InputFaults where they do not."""
        if beam.given:
            return
        try:
            solve(with_flanges(beam, code), [[p for a in beam.actions for p in beam.loads(a)]], 3e4)
        except UnstableLine as error:
            self.wrong(("line",), str(error))
            raise InputFaults(self.faults) from None

    def _code(self) -> DesignCode | None:
        """The code of the file. Where it is misspelled, the one that can be meant: the rest is looked through
        by that."""
        g = self.given
        name, annex = g.code, g.annex
        try:
            get_code(name)
        except CodeError as error:
            self.wrong(("code",), str(error))
            close = difflib.get_close_matches(name, known_codes(), n=1, cutoff=0.4)
            if not close:
                return None
            name = close[0]
        try:
            get_code(name, annex)
        except CodeError as error:
            self.wrong(("annex",), str(error))
            annex = None
        try:
            return get_code(name, annex, g.code_values)
        except CodeError as error:
            self.wrong(("code_values",), str(error))
            return get_code(name, annex)

    def _profile(self, name: str, p: m.ProfileIn) -> b.Profile:
        """A T has a flange on both sides of its web, an L on one."""
        path: Path_ = ("profiles", name, "flange")
        f = p.flange
        assert isinstance(p.depth, float)
        assert isinstance(p.width, float)
        bare = p.shape in ("rectangle", "trapezoid", "polygon")
        if (p.shape == "polygon") != (p.outline is not None):
            self.wrong(
                (*path[:-1], "outline"),
                "a polygon has an 'outline', its corners [[x, y], ...], and only a polygon",
            )
        elif p.outline is not None:
            return self._outlined(name, p.outline)
        if bare != (f is None):
            text = (
                f"a {p.shape} has no flange; leave it out, or make the shape T or L"
                if f
                else f"a {p.shape} needs a 'flange'"
            )
            self.wrong(path if f else path[:-1], text)
        if (p.shape == "trapezoid") != (p.foot is not None):
            self.wrong(
                (*path[:-1], "foot"),
                "a trapezoid has a 'foot', the width of its web at the bottom, and only a trapezoid",
            )
        if f is None or bare:
            return b.Profile(name, p.width, p.depth, None, p.foot)
        if f.thickness >= p.depth:
            self.wrong(
                (*path, "thickness"), f"{across(f.thickness)} is no less than the depth of {across(p.depth)}"
            )
        below = p.shape == "inverted T"
        if below and f.width == "auto":
            self.wrong(
                (*path, "width"), "the flange below of an inverted T ends somewhere: give its full 'width'"
            )
        if p.shape != "L" and f.side is not None:
            self.wrong(
                (*path, "side"),
                f"a {p.shape} has its flange on both sides; leave it out, or make the shape L",
            )
        gaps = (f.gap_left, f.gap_right)
        if f.width != "auto":
            if any(g is not None for g in gaps):
                self.wrong(path, "give the width of the flange, or the gaps to the next webs, not both")
            out = f.width - p.width
            if out <= 0.0:
                self.wrong(
                    (*path, "width"), f"{across(f.width)} is no wider than the web of {across(p.width)}"
                )
            left, right = (
                (0.5 * out, 0.5 * out) if p.shape != "L" else (out, 0.0) if f.side == "left" else (0.0, out)
            )
            return b.Profile(
                name,
                p.width,
                p.depth,
                b.Flange(f.thickness, max(left, 0.0), max(right, 0.0), f.cross_steel, below),
            )
        if p.shape == "T" and None in gaps:
            self.wrong(
                path, "give 'gap_left' and 'gap_right', the clear distances to the next webs, or the 'width'"
            )
        if p.shape == "L" and (gaps[0] is None) == (gaps[1] is None):
            self.wrong(
                path,
                "the flange of an L is on one side of the web: give 'gap_left' or 'gap_right', or the "
                "'width' and 'side'",
            )
        return b.Profile(
            name,
            p.width,
            p.depth,
            b.Flange(f.thickness, 0.5 * (gaps[0] or 0.0), 0.5 * (gaps[1] or 0.0), f.cross_steel),
        )

    def _cover(self, code: DesignCode, detailing: b.Detailing, concrete: b.Concrete) -> b.Cover:
        """As given, or worked out; what is given wins, but never below what the exposure asks for."""
        c = self.given.cover
        own = {face: getattr(c, face) for face in ("top", "bottom", "sides")}
        if c.exposure is None:
            missing = [face for face, value in own.items() if value is None]
            if missing:
                self.wrong(
                    ("cover",), f"give '{missing[0]}', or the 'exposure' that cover is worked out from"
                )
            if c.fire is not None:
                self.wrong(("cover", "fire"), "give the 'exposure' too: cover is worked out from both")
            return b.Cover(*(30.0 if v is None else v for v in own.values()))
        bars = [code.sizes[s].diameter for s in detailing.main_bars if s in code.sizes] or [20.0]
        ties = [code.sizes[s].diameter for s in detailing.stirrup_bars if s in code.sizes] or [8.0]
        # a sloping web is as wide as at the level of its bars, near its foot or its top
        widths = [
            min(float(p.width), float(p.foot or p.width))
            for p in self.profiles.values()
            if isinstance(p.width, (int, float))
        ]
        widths += [_narrow_at_steel(p.outline) for p in self.profiles.values() if p.outline is not None]
        spans = [e for e in self.given.line if isinstance(e, m.SpanIn)]
        share = self.given.redistribution
        alike = share is None or (share.percent != "maximum" and share.percent <= 15.0)
        supports = [e for e in self.given.line if isinstance(e, m.SupportIn)]
        continuous = (
            len(supports) > 2
            and not any(e.hinges for e in spans)
            and not any(e.hinge for e in supports)
            and alike
        )
        wish = CoverWish(
            c.exposure, c.fire, c.structural_class, c.deviation, (min(bars), max(bars)), (min(ties),
            max(ties)), min(widths, default=300.0),
            continuous, concrete.strength, concrete.aggregate,
        )  # fmt: skip
        if code.cover.unverified() and not any(v is None for v in own.values()) and c.fire is None:
            return b.Cover(*(30.0 if v is None else v for v in own.values()))
        try:
            result = code.cover.required(wish)
        except CodeError as error:
            self.wrong(("cover", "fire" if str(error).startswith(("R", "fire")) else "exposure"), str(error))
            return b.Cover(30.0, 30.0, 30.0)
        for face, value in own.items():
            requested = getattr(result, face)
            if value is not None and value < requested - 1e-6:
                words = (
                    f"{across(value)} is less than the {across(requested)} that {c.exposure} and fire "
                    "require; leave it out"
                )
                self.wrong(("cover", face), words)
        cover = b.Cover(*(getattr(result, face) if value is None else value for face, value in own.items()))
        unit, factor = self.units.unit("section"), self.units.factor("section")
        words = ", ".join(f"{face} {getattr(cover, face) / factor:.4g}" for face in own)
        said = c.exposure + (f", R{c.fire}" if c.fire else "")
        self.proposed = (f"cover was worked out for {said}: {words} {unit}",)
        return cover

    def _outlined(self, name: str, corners: list[list[float]]) -> b.Profile:
        """A polygon with its top at 0, and its widths where stirrups and bars are."""
        highest = min(y for _, y in corners)
        points = tuple((x, y - highest) for x, y in corners)
        fallback = b.Profile(name, 1000.0, 1000.0)
        try:
            strips = polygon(points)
        except ValueError as error:
            self.wrong(("profiles", name, "outline"), str(error))
            return fallback
        if parted(points):
            self.wrong(
                ("profiles", name, "outline"),
                "at some depth it stands in two pieces: give each web of it a beam of its own",
            )
            return fallback
        cover, depth = self.cover, float(strips.height[0])
        if depth <= cover.top + cover.bottom + 2.0 * BAND:
            self.wrong(
                ("profiles", name, "outline"),
                f"{across(depth)} of depth leave no room for bars inside the cover",
            )
            return fallback
        width = narrowest_between(strips, cover.top, depth - cover.bottom)
        rooms = (
            narrowest_between(strips, cover.top, cover.top + BAND),
            narrowest_between(strips, depth - cover.bottom - BAND, depth - cover.bottom),
        )
        return b.Profile(name, width, depth, None, None, points, rooms)

    def _tapers(
        self, i: int, entry: m.SpanIn, profiles: dict[str, b.Profile]
    ) -> tuple[b.Profile, b.Profile | None]:
        """Profiles at the two ends of a span; the second is None where it does not taper."""
        first = next(iter(profiles.values()))
        names = (
            [("profile", entry.profile)]
            if isinstance(entry.profile, str)
            else [("from", entry.profile.from_), ("to", entry.profile.to)]
        )
        result = []
        for key, name in names:
            if name not in profiles:
                path: Path_ = ("line", i, "profile") if key == "profile" else ("line", i, "profile", key)
                self.wrong(path, f"no profile is called '{name[:40]}'{nearest(name, list(profiles))}")
            result.append(profiles.get(name, first))
        if len(result) == 1 or result[0] == result[1]:
            return result[0], None
        if result[0].outline or result[1].outline:
            self.wrong(("line", i, "profile"), "a span with a polygon as its profile does not taper")
        if result[0].flange != result[1].flange:
            self.wrong(
                ("line", i, "profile"),
                "a span tapers in depth and width of its web; both its ends need the same flange",
            )
        return result[0], result[1]

    def _line(self, profiles: dict[str, b.Profile]) -> tuple[tuple[b.Support, ...], tuple[b.Span, ...]]:
        """Supports and spans in turn; x grows from the first centreline or tip."""
        supports: list[b.Support] = []
        spans: list[b.Span] = []
        x, left, valid = 0.0, None, True
        names: dict[str, int] = {}
        previous = ""
        for i, entry in enumerate(self.given.line):
            kind = "support" if isinstance(entry, m.SupportIn) else "span"
            if kind == previous:
                self.wrong(("line", i), f"two {kind}s follow each other; supports and spans come in turn")
                valid = False
            previous = kind
            if isinstance(entry, m.SupportIn):
                if entry.support in names:
                    self.wrong(
                        ("line", i, "support"),
                        f"'{entry.support}' names two supports; give each its own name",
                    )
                names[entry.support] = i
                spring = entry.spring or m.SpringIn()
                if entry.fixed and spring.rotation is not None:
                    self.wrong(
                        ("line", i, "spring"), "a fixed support does not turn; drop 'fixed' or 'rotation'"
                    )
                if entry.fixed and entry.column is not None:
                    self.wrong(
                        ("line", i, "column"), "a fixed support does not turn; drop 'fixed' or 'column'"
                    )
                columns = self._columns(entry)
                if entry.hinge and (entry.fixed or columns or spring.rotation is not None):
                    self.wrong(
                        ("line", i, "hinge"),
                        "a support that restrains the beam has no hinge over it; put it beside, with "
                        "'hinges'",
                    )
                supports.append(
                    b.Support(
                        entry.support,
                        x,
                        entry.width,
                        entry.fixed,
                        spring.vertical,
                        spring.rotation,
                        columns,
                        entry.settles,
                        entry.framing == "direct",
                        entry.torsion == "held",
                        entry.hinge,
                    )
                )
                left = len(supports) - 1
                if spans and valid and spans[-1].right is None:
                    spans[-1] = replace(spans[-1], right=left)
                continue
            profile, becomes = self._tapers(i, entry, profiles)
            for k, a in enumerate(entry.hinges):
                if not 1.0 <= a <= entry.span - 1.0:
                    self.wrong(
                        ("line", i, "hinges", k),
                        f"{along(a)} is not inside the span, which is {along(entry.span)} long",
                    )
            hinges = tuple(sorted(set(entry.hinges)))
            spans.append(b.Span(str(len(spans) + 1), x, entry.span, profile, left, None, becomes, hinges))
            x += entry.span
        if not spans:
            self.wrong(("line",), "has no span")
        if not supports:
            self.wrong(("line",), "has no support")
        elif len(supports) == 1 and not supports[0].restrains_rotation:
            at = next(i for i, e in enumerate(self.given.line) if isinstance(e, m.SupportIn))
            self.wrong(
                ("line", at),
                "one plain support lets the line turn over; make it 'fixed: true' or add a support",
            )
        if not valid or not supports:
            return tuple(supports), ()
        return tuple(supports), tuple(spans)

    @staticmethod
    def _columns(entry: m.SupportIn) -> tuple[b.Column, ...]:
        given = [
            c for c in ((entry.column.below, entry.column.above) if entry.column else ()) if c is not None
        ]
        return tuple(
            b.Column(c.height, c.size[1] * c.size[0] ** 3 / 12.0, c.far_end == "fixed", c.stiffness)
            for c in given
        )

    def _combining(self, code: DesignCode, actions: tuple[b.Action, ...]) -> b.Combining:
        c = self.given.combinations
        if c.rule is not None and c.rule not in code.actions.rules:
            self.wrong(
                ("combinations", "rule"),
                f"'{c.rule}' is no rule of this code; rules: {', '.join(code.actions.rules)}",
            )
        known = {"permanent", "settlement", *(a.category or a.name for a in actions if a.kind != "permanent")}
        for i, own in enumerate(c.add):
            path: Path_ = ("combinations", "add", i)
            if own.level not in code.actions.levels:
                self.wrong(
                    (*path, "level"),
                    f"no level is called '{own.level}'; levels: {', '.join(code.actions.levels)}",
                )
            if "permanent" not in own.factors:
                self.wrong(
                    (*path, "factors"),
                    "'permanent' is missing; give 'permanent: 0' if they are to be left out",
                )
            for key in own.factors:
                if key not in known:
                    self.wrong(
                        (*path, "factors", key),
                        f"no action counts as '{key[:40]}'{nearest(key, sorted(known))}",
                    )
        if c.replace:
            for level in dict.fromkeys(o.level for o in c.add):
                chosen = [(i, o) for i, o in enumerate(c.add) if o.level == level]
                if not any(f != 0.0 for _, o in chosen for f in o.factors.values()):
                    path = ("combinations", "add", chosen[0][0], "factors")
                    self.wrong(
                        path, f"every factor of the level {level} is zero: nothing would be designed for"
                    )
        added = tuple(b.UserCombination(o.level, o.name, dict(o.factors)) for o in c.add)
        if c.replace and not added:
            self.wrong(("combinations", "replace"), "'add' has nothing to replace them")
        return b.Combining(c.rule or "", added, c.replace)

    def _given(
        self, code: DesignCode, supports: tuple[b.Support, ...], spans: tuple[b.Span, ...]
    ) -> dict[str, tuple[b.ForceLine, ...]]:
        """Force tables by level; several of a level are laid over one another."""
        g = self.given.forces
        if g is None:
            if not self.given.actions and "forces" not in self.source.data:
                self.wrong(
                    ("actions",), "there is nothing to design for: give 'actions', or 'forces' from tables"
                )
            return {}
        if self.given.actions:
            self.wrong(("actions",), "'actions' and 'forces' do not go together; leave one out")
        covered = _spans_covered(supports, spans)
        strength = g.strength if isinstance(g.strength, list) else [g.strength]
        wanted: list[tuple[str, Path_, str]] = [
            (code.actions.levels[0], ("forces", "strength"), t.table) for t in strength
        ]
        for level, tables in g.service.items():
            if level not in (*code.actions.levels[1:], "permanent"):
                known = ", ".join((*code.actions.levels[1:], "permanent"))
                self.wrong(("forces", "service", level), f"no service level is called so; levels: {known}")
                continue
            wanted += [
                (level, ("forces", "service", level), t)
                for t in (tables if isinstance(tables, list) else [tables])
            ]
        result: dict[str, tuple[b.ForceLine, ...]] = {}
        several = {level for level, _, _ in wanted if sum(level == other for other, _, _ in wanted) > 1}
        for level, path, table in wanted:
            lines = self._table(path, table, covered, level in several)
            if lines:
                result[level] = (*result.get(level, ()), *lines)
        if self.given.redistribution and not all(
            line.together for line in result.get(code.actions.levels[0], ())
        ):
            self.wrong(
                ("redistribution",),
                "extremes cannot be redistributed: it needs a strength table with a row a combination and "
                "station",
            )
        return result

    def _table(self, path: Path_, name: str, covered: SpanOf, several: bool) -> list[b.ForceLine]:
        file = inside(self.folder, name, self.root)
        if file is None:
            self.wrong(path, outside_text(name, self.folder, self.root))
            return []
        lines, faults = read_table(file, covered, several)
        if faults and faults[0].text.startswith("cannot be read"):
            self.wrong(path, f"'{name[:60]}' {faults[0].text}")
        else:
            self.faults += [replace(f, text=worded(f.text, self.units)) for f in faults]
        return lines

    def _by_action(
        self,
        code: DesignCode,
        supports: tuple[b.Support, ...],
        spans: tuple[b.Span, ...],
        actions: tuple[b.Action, ...],
        combining: b.Combining,
    ) -> tuple[tuple[b.Action, ...], dict[str, tuple[b.ForceLine, ...]]]:
        """Unfactored forces of every action, combined by the code, by level; several analyses are laid over
        one another."""
        if self.given.forces is not None:
            self.wrong(("forces",), "the forces come from the tables of the actions; leave it out")
        if any(s.settles for s in supports):
            self.wrong(
                ("line",), "with forces from tables a settlement is an action of theirs; leave 'settles' out"
            )
        for i, (a, given) in enumerate(zip(actions, self.given.actions, strict=True)):
            if not a.tables:
                self.wrong(
                    ("actions", i),
                    "has loads, and other actions have tables: the tables of an analysis hold all actions, "
                    "or none",
                )
            elif given.loads or given.self_weight:
                self.wrong(("actions", i), "give its 'table', or loads and self weight; not both")
            if given.acts_from is not None:
                self.wrong(("actions", i, "acts_from"), "is not known of forces from tables; leave it out")
        sets = max(len(a.tables) for a in actions)
        for i, a in enumerate(actions):
            if len(a.tables) not in (1, sets):
                self.wrong(
                    ("actions", i, "table"),
                    f"names {len(a.tables)} tables where another action names {sets}: one, or as many",
                )
        if self.faults:
            return actions, {}
        read = _Tables(self, _spans_covered(supports, spans))
        result: dict[str, tuple[b.ForceLine, ...]] = {}
        lines: dict[str, tuple[b.ForceLine, ...]] = {}
        for number in range(sets):
            forces = [
                read.forces(i, a, a.tables[min(number, len(a.tables) - 1)]) for i, a in enumerate(actions)
            ]
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
            self.cautions += cautions_of(known, spans)
        if any(len(own) > MAXIMUM_LINES for own in result.values()):
            self.wrong(
                ("actions",), f"make more than {MAXIMUM_LINES:,} combinations; join what acts together"
            )
        self.cautions += read.unused()
        return tuple(replace(a, lines=lines.get(a.name, ())) for a in actions), result

    def _redistribution(self, supports: tuple[b.Support, ...], spans: tuple[b.Span, ...]) -> b.Redistribution:
        """Only where spans stand on both sides: a cantilever's moment is what its loads make it."""
        given = self.given.redistribution
        if given is None:
            return b.Redistribution()
        # the moment line of a span with a hinge cannot be shifted: it passes through zero there
        beside = [
            sum(i in (s.left, s.right) and not s.cantilever and not s.hinges for s in spans)
            for i in range(len(supports))
        ]
        inner = {s.name: i for i, s in enumerate(supports) if beside[i] == 2 and not s.hinge}
        fixed = {
            s.name: i
            for i, s in enumerate(supports)
            if beside[i] == 1 and s.fixed and sum(i in (p.left, p.right) for p in spans) == 1
        }
        known = {s.name: i for i, s in enumerate(supports) if s.name in inner or s.name in fixed}
        if self.given.arrangements == "every":
            self.wrong(
                ("redistribution",), "moments are redistributed set by set: it needs 'arrangements: code'"
            )
        chosen = []
        for k, name in enumerate(
            inner if given.supports == "inner" else known if given.supports == "all" else given.supports
        ):
            if name in known:
                chosen.append(known[name])
            else:
                words = (
                    f"'{name[:40]}' has no span without hinges on both sides, nor is it a fixed end; such "
                    f"are {', '.join(known) or 'none'}"
                )
                self.wrong(("redistribution", "supports", k), words)
        if not chosen and not isinstance(given.supports, list):
            self.wrong(
                ("redistribution",),
                "no support has spans without hinges on both sides: there is nothing to redistribute",
            )
        if isinstance(given.percent, str):
            return b.Redistribution(None, tuple(chosen))
        return b.Redistribution(1.0 - given.percent / 100.0, tuple(chosen) if given.percent else ())

    def _actions(
        self, code: DesignCode, supports: tuple[b.Support, ...], spans: tuple[b.Span, ...]
    ) -> tuple[b.Action, ...]:
        actions: list[b.Action] = []
        seen: set[str] = set()
        for i, a in enumerate(self.given.actions):
            if a.name in seen:
                self.wrong(("actions", i, "name"), f"'{a.name}' names two actions; give each its own name")
            seen.add(a.name)
            if a.kind not in ("permanent", "imposed") and a.name in (
                "permanent",
                "settlement",
                *code.actions.categories,
            ):
                # it would be combined as one with the actions that go by this word, with their factors
                self.wrong(
                    ("actions", i, "name"),
                    f"'{a.name}' is already the name of other actions in combinations; use another name",
                )
            if a.kind not in ("permanent", *code.actions.kinds):
                self.wrong(
                    ("actions", i, "kind"),
                    f"no kind is called '{a.kind[:40]}'; kinds: permanent, {', '.join(code.actions.kinds)}",
                )
            if (a.kind == "other") != (a.psi is not None):
                self.wrong(
                    ("actions", i, "psi"),
                    "the kind 'other' needs 'psi: [psi_0, psi_1, psi_2]', and only it has them",
                )
            category = (
                a.category
                if a.category is not None or a.kind != "imposed"
                else code.actions.default_category()
            )
            if a.kind == "imposed" and category not in code.actions.categories:
                text = (
                    "an imposed action needs a 'category'"
                    if category is None
                    else f"no category is called '{category}'"
                )
                self.wrong(
                    ("actions", i, "category"), f"{text}; categories: {', '.join(code.actions.categories)}"
                )
            if a.kind != "imposed" and a.category is not None:
                self.wrong(("actions", i, "category"), "only imposed actions have a category; leave it out")
            loads: list[b.Load] = []
            for j, load in enumerate(a.loads):
                if self.loads > MAXIMUM_LOADS:
                    break
                more = self._load(load, ("actions", i, "loads", j), supports, spans)
                loads += more
                self.loads += len(more)
                if self.loads > MAXIMUM_LOADS:
                    self.wrong(
                        ("actions", i, "loads", j),
                        f"here the loads of all spans are more than {MAXIMUM_LOADS:,}; join equal ones",
                    )
            if a.self_weight == "web" and any(
                s.profile.flange is not None and s.profile.flange.below for s in spans
            ):
                self.wrong(
                    ("actions", i, "self_weight"),
                    "the flange of an inverted T is no slab: weigh all of it, 'self_weight: true'",
                )
            if not a.self_weight and not a.loads and a.table is None:
                self.wrong(
                    ("actions", i),
                    "has no loads; give 'loads', 'self_weight: true', or a 'table' of its forces",
                )
            psi = (a.psi[0], a.psi[1], a.psi[2]) if a.psi else None
            density = a.density if a.self_weight else 0.0
            if a.acts_from is not None and a.kind != "permanent":
                self.wrong(
                    ("actions", i, "acts_from"),
                    "only permanent actions have an age from which they act; leave it out",
                )
            if a.either_way and a.kind == "permanent":
                self.wrong(("actions", i, "either_way"), "permanent actions act one way; leave it out")
            since = a.acts_from or 0.0
            weighs_web = a.self_weight == "web"
            tables = () if a.table is None else (a.table,) if isinstance(a.table, str) else tuple(a.table)
            actions.append(
                b.Action(
                    a.name,
                    a.kind,
                    category,
                    tuple(loads),
                    density,
                    weighs_web,
                    psi,
                    since,
                    a.either_way,
                    tables,
                )
            )
        variable = {
            a.category or a.name: i for i, a in reversed(list(enumerate(actions))) if a.kind != "permanent"
        }
        if len(variable) > MAXIMUM_VARIABLE:
            first = sorted(variable.values())[MAXIMUM_VARIABLE]
            self.wrong(
                ("actions", first),
                f"here the independent variable actions are more than {MAXIMUM_VARIABLE}; join what acts "
                "together",
            )
        return tuple(actions)

    def _load(
        self, load: m.LoadIn, path: Path_, supports: tuple[b.Support, ...], spans: tuple[b.Span, ...]
    ) -> list[b.Load]:
        result: list[b.Load] = []
        for k in self._spans_named(load.on, path, supports, spans):
            length = spans[k].length
            if isinstance(load, m.TorqueIn):
                result += self._torque(load, path, k, length)
                continue
            if isinstance(load, (m.PointLoadIn, m.CoupleLoadIn)):
                if not -1e-6 <= load.at <= length + 1e-6:
                    self.wrong(
                        (*path, "at"),
                        f"{along(load.at)} lies outside span {k + 1}, which is {along(length)} long",
                    )
                    continue
                value, shape = (
                    (load.point, "point") if isinstance(load, m.PointLoadIn) else (load.couple, "couple")
                )
                if shape == "couple" and any(abs(load.at - h) < 1.0 for h in spans[k].hinges):
                    self.wrong((*path, "at"), "a couple on a hinge acts on neither side; move it to one")
                at = _snapped(load.at, length)
                hung, off = (
                    (load.hung, load.eccentricity) if isinstance(load, m.PointLoadIn) else (False, 0.0)
                )
                result.append(b.Load(shape, k, value, value, at, at, hung, _sign(off)))
                if off:
                    result.append(b.Load("torque", k, value * off, value * off, at, at, False, _sign(off)))
                continue
            start = 0.0 if load.from_ is None else _snapped(load.from_, length)
            end = length if load.to is None else _snapped(load.to, length)
            if isinstance(load, m.AreaLoadIn):
                first = last = load.area * load.loaded_width
            else:
                first, last = load.line if isinstance(load.line, list) else (load.line, load.line)
            if not 0.0 <= start < end <= length:
                text = (
                    f"from {along(start)} to {along(end)} extends beyond span {k + 1}, which is "
                    f"{along(length)} long"
                )
                self.wrong(path, text)
                continue
            off = load.eccentricity
            result.append(b.Load("line", k, first, last, start, end, False, _sign(off)))
            if off:
                result.append(b.Load("twist", k, first * off, last * off, start, end, False, _sign(off)))
        return result

    def _torque(self, load: m.TorqueIn, path: Path_, k: int, length: float) -> list[b.Load]:
        """A torque at one place, or spread: the same word with another unit."""
        spread = load.at is None
        values = load.torque if isinstance(load.torque, list) and spread else [load.torque]
        numbers = []
        for value in values[:2] or [0.0]:
            try:
                numbers.append(parse(value, "torque per length" if spread else "moment", self.units))
            except UnitError as error:
                self.wrong((*path, "torque"), str(error))
                numbers.append(0.0)
        if len(values) not in (1, 2):
            self.wrong((*path, "torque"), "give one value, or [first, last]")
        if load.at is not None:
            if load.from_ is not None or load.to is not None:
                self.wrong((*path, "at"), "a torque at one place has no 'from' and 'to'")
            if not -1e-6 <= load.at <= length + 1e-6:
                self.wrong(
                    (*path, "at"),
                    f"{along(load.at)} lies outside span {k + 1}, which is {along(length)} long",
                )
                return []
            at = _snapped(load.at, length)
            return [b.Load("torque", k, numbers[0], numbers[0], at, at, False, _sign(numbers[0]))]
        start, end = (
            0.0 if v is None else _snapped(v, length)
            for v in (load.from_, length if load.to is None else load.to)
        )
        if not 0.0 <= start < end <= length:
            text = (
                f"from {along(start)} to {along(end)} extends beyond span {k + 1}, which is {along(length)} "
                "long"
            )
            self.wrong(path, text)
            return []
        return [
            b.Load("twist", k, numbers[0], numbers[-1], start, end, False, _sign(numbers[0] + numbers[-1]))
        ]

    def _spans_named(
        self, on: object, path: Path_, supports: tuple[b.Support, ...], spans: tuple[b.Span, ...]
    ) -> list[int]:
        if on is None:
            return list(range(len(spans)))
        between = {
            f"{supports[s.left].name}-{supports[s.right].name}": k
            for k, s in enumerate(spans)
            if s.left is not None and s.right is not None
        }
        result: list[int] = []
        for item in on if isinstance(on, list) else [on]:
            assert isinstance(item, (int, str))
            number = int(item) if isinstance(item, int) or str(item).isdigit() else 0
            if 1 <= number <= len(spans):
                k = number - 1
            elif str(item) in between:
                k = between[str(item)]
            else:
                self.wrong(
                    (*path, "on"),
                    f"no span is called '{str(item)[:40]}'; spans are 1 to {len(spans)}, or "
                    f"{', '.join(between) or 'by number'}",
                )
                continue
            if k in result:
                self.wrong((*path, "on"), f"span {k + 1} is named twice")
                continue
            result.append(k)
        return result

    def _service(self, code: DesignCode) -> b.Service:
        s = self.given.service
        d = s.deflection
        usual = code.deflection.usual_limits(frozenset(a.kind for a in self.given.actions) - {"permanent"})
        limits = {
            key: (
                ((usual[key], None) if key in usual else None)
                if wish is None
                else None
                if wish == "none"
                else self._limit(wish, key)
            )
            for key, wish in (
                ("total", d.total),
                ("after_finishes", d.after_finishes),
                ("after_partitions", d.after_partitions),
                ("live", d.live),
            )
        }
        if s.crack_width is not None and not code.cracking.limits_width:
            text = "this code limits cracks by the distance of the bars, not by their width; leave it out"
            self.wrong(("service", "crack_width"), text)
        exposure = self.given.cover.exposure
        spans = sum(isinstance(e, m.SpanIn) for e in self.given.line)
        camber = tuple(d.precamber) if isinstance(d.precamber, list) else (d.precamber,) * spans
        if len(camber) != spans:
            self.wrong(
                ("service", "deflection", "precamber"),
                f"has {len(camber)} values; one for each of the {spans} spans is needed",
            )
        camber = camber if any(camber) else ()
        return b.Service(
            limits["total"],
            limits["after_finishes"],
            d.finishes_at,
            s.crack_width,
            s.humidity,
            s.age_at_loading,
            s.cement,
            camber,
            d.cantilever,
            s.stiffness,
            limits["after_partitions"],
            d.partitions_at,
            limits["live"],
            exposure,
            d.total is None and code.deflection.total_is_advice,
        )

    def _limit(self, value: object, key: str) -> tuple[float | None, float | None]:
        """'span/250' -> (250, None); '20 mm' -> (None, 20)."""
        path: Path_ = ("service", "deflection", key)
        match = (
            re.fullmatch(r"\s*(?:span|L|l)\s*/\s*(\d+(?:\.\d+)?)\s*", value)
            if isinstance(value, str)
            else None
        )
        if match and float(match.group(1)) > 0.0:
            share = float(match.group(1))
            if not MINIMUM_SHARE <= share <= MAXIMUM_SHARE:
                self.wrong(
                    path,
                    f"'{value}' is outside the sensible range, span/{MINIMUM_SHARE:g} to "
                    f"span/{MAXIMUM_SHARE:g}",
                )
            return share, None
        try:
            length = parse(value, "section", self.units)
        except UnitError:
            self.wrong(path, f"'{str(value)[:40]}' is not a valid limit (valid: span/250, '20 mm')")
            return 250.0, None
        if length <= 0.0:
            self.wrong(path, f"'{value}' is not above zero")
        elif not 0.1 <= length <= 2_000.0:
            self.wrong(path, f"'{value}' is outside the sensible range, {across(0.1)} to {across(2_000.0)}")
        return None, length

    def _detailing(self, code: DesignCode) -> b.Detailing:
        d = self.given.detailing
        main, ties = d.main_bars or list(code.sizes.main), d.stirrup_bars or list(code.sizes.stirrups)
        roles = (
            ("main_bars", main),
            ("stirrup_bars", ties),
            ("hangers", d.hangers or []),
            ("side_bars", d.side_bars or []),
        )
        for key, sizes in roles:
            for j, size in enumerate(sizes):
                if size not in code.sizes:
                    self.wrong(
                        ("detailing", key, j),
                        f"no bar is called '{size[:20]}'; sizes: {', '.join(code.sizes)}",
                    )
        step = self.units.step
        faces = {
            face: tuple(sizes) for face, sizes in (("bottom", d.bottom_bars), ("top", d.top_bars)) if sizes
        }
        for face, chosen in faces.items():
            for j, size in enumerate(chosen):
                if size not in code.sizes:
                    self.wrong(
                        ("detailing", f"{face}_bars", j),
                        f"no bar is called '{size[:20]}'; sizes: {', '.join(code.sizes)}",
                    )
        if d.most_bars is not None and d.most_bars < d.least_bars:
            self.wrong(("detailing", "most_bars"), f"{d.most_bars} is fewer than least_bars, {d.least_bars}")
        shortest, longest = d.pieces.shortest, d.pieces.longest
        if shortest is not None and shortest > min(longest or d.stock_length, d.stock_length):
            self.wrong(
                ("detailing", "pieces", "shortest"), "is longer than the longest piece; make it shorter"
            )
        if d.bar_spacing.centres is not None and d.bar_spacing.centres <= d.bar_spacing.clear:
            self.wrong(
                ("detailing", "bar_spacing", "centres"),
                "is no more than the clear distance that is kept; make it greater",
            )
        return b.Detailing(
            tuple(main),
            tuple(ties),
            d.layers,
            d.reserve,
            d.stock_length,
            step,
            b.Rates(**d.rates.model_dump()),
            faces,
            d.one_size,
            d.least_bars,
            d.most_bars,
            d.service_stress,
            d.laps,
            tuple(sorted(d.laps_at)),
            tuple(sorted(set(d.spacings))),
            d.zones,
            d.stirrup_legs,
            d.vibrator_gap,
            d.style,
            tuple(d.hangers or ()),
            tuple(d.side_bars or ()),
            d.side_rows,
            d.end_shape,
            d.pieces.shortest,
            d.pieces.longest,
            d.pieces.lengths,
            d.cut_off,
            d.bar_spacing.clear,
            d.bar_spacing.centres,
            d.minimum_steel,
        )

    def _sizes(
        self,
        profiles: dict[str, b.Profile],
        spans: tuple[b.Span, ...],
        supports: tuple[b.Support, ...],
        detailing: b.Detailing,
        code: DesignCode,
    ) -> None:
        """Sizes that leave no room for a beam."""
        c = self.cover
        for name, p in profiles.items():
            keys = ("outline", "outline") if p.outline else ("width", "depth")
            for key, value in zip(keys, (p.width, p.depth), strict=True):
                if value > THICKEST:
                    self.wrong(
                        ("profiles", name, key),
                        f"{across(value)} is more than {across(THICKEST)}; check its unit",
                    )
            thickest = min(
                (code.sizes[s].diameter for s in detailing.stirrup_bars if s in code.sizes), default=8.0
            )
            if p.width - 2 * c.sides - 2 * thickest < 50.0:
                self.wrong(
                    ("profiles", name, keys[0]), f"{across(p.width)} leaves no room for bars inside the cover"
                )
            if p.depth - c.top - c.bottom - 2 * thickest < 60.0:
                self.wrong(
                    ("profiles", name, keys[1]), f"{across(p.depth)} leaves no room for bars inside the cover"
                )
        position = [i for i, e in enumerate(self.given.line) if isinstance(e, m.SpanIn)]
        for k, s in enumerate(spans):
            taken = sum(0.5 * supports[q].width for q in (s.left, s.right) if q is not None)
            if s.length > LONGEST:
                self.wrong(
                    ("line", position[k], "span"),
                    f"{along(s.length)} is longer than {along(LONGEST)}; check its unit",
                )
            elif taken >= s.length:
                self.wrong(
                    ("line", position[k], "span"),
                    f"{along(s.length)} is no longer than its supports are wide",
                )
            elif s.length < s.deepest:
                self.wrong(
                    ("line", position[k], "span"),
                    f"{along(s.length)} is shorter than the beam is deep; this is not a beam",
                )


def _spans_covered(supports: tuple[b.Support, ...], spans: tuple[b.Span, ...]) -> SpanOf:
    """Names and lengths of the spans, as tables are held against them."""
    names = {str(k + 1): k for k in range(len(spans))}
    for k, s in enumerate(spans):
        if s.left is not None and s.right is not None:
            names[f"{supports[s.left].name}-{supports[s.right].name}"] = k
    return SpanOf(names, tuple(s.length for s in spans))


class _Tables:
    """Tables by action, each read once."""

    def __init__(self, reader: _Reader, covered: SpanOf) -> None:
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


def _snapped(x: float, length: float) -> float:
    """A place along a span, on its end where it is within a hundredth of a millimetre of it."""
    return 0.0 if abs(x) < 0.01 else length if abs(x - length) < 0.01 else x


def _sign(value: float) -> int:
    """-1, 0 or 1."""
    return (value > 0.0) - (value < 0.0)


def _narrow_at_steel(corners: list[list[float]]) -> float:
    """Narrowest width of an outline near its lower and upper edge, mm; 300 where it is none (which is told
    elsewhere)."""
    highest = min(y for _, y in corners)
    try:
        strips = polygon(tuple((x, y - highest) for x, y in corners))
        depth = float(strips.height[0])
        return min(
            narrowest_between(strips, 0.02 * depth, 0.15 * depth),
            narrowest_between(strips, 0.85 * depth, 0.98 * depth),
        )
    except ValueError:
        return 300.0
