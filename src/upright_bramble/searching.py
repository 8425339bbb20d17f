"""The loop that proportions until the verdict holds, and what is tried when it does not: other sizes, thicker
stirrups, fewer marks."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, field, replace
from math import ceil, inf
from typing import Any

import numpy as np

from upright_bramble.analysis import Forces
from upright_bramble.beam import Beam, Layout
from upright_bramble.beam.layout import FACES
from upright_bramble.codes import DesignCode
from upright_bramble.judging import judged
from upright_bramble.lessons import learn, targets, tight
from upright_bramble.proportion import Needs, NoProposal, Proposal, Runner, Weighings, propose
from upright_bramble.verify import Result
from upright_bramble.verify.bends import mandrels_of

ROUNDS = 11
KEPT = 16  # verdicts on layouts that a search comes by again
FORETOLD = 1.15  # of a deflection: what is worked out is no truer than this
TRIMMED = 3  # rounds that bring steel for service down again
IDLE = 3  # rounds whose needs changed no bar: more of them help no more
PAYS = 0.03  # of the steel's cost, at least: what compression bars save, which lie through the whole line
REGAINED = 0.02  # of the steel's cost: what later rounds may bring a search down by
TIGHTENED = 3  # further rounds for a design that passes with less than its reserve


@dataclass(frozen=True)
class Task:
    """A beam to design around what is held, and the verdicts on layouts and the runs weighed so far: variants
    of a search come by the same bars and demands again and again."""

    beam: Beam
    code: DesignCode
    forces: Forces
    held: Layout | None
    verdicts: dict[tuple[int, Layout], tuple[Forces, Forces, Result]] = field(default_factory=dict)
    weighings: Weighings = field(default_factory=Weighings)

    def of(self, beam: Beam) -> Task:
        """The same with other wishes: a verdict asks for the beam of the forces alone."""
        return replace(self, beam=beam)

    def with_detailing(self, **wishes: Any) -> Task:
        return self.of(replace(self.beam, detailing=replace(self.beam.detailing, **wishes)))

    def proposed(self, needs: Needs) -> Proposal:
        """Raises NoProposal where no bars fit."""
        return propose(self.beam, self.code, self.forces, needs, self.held, self.weighings)

    def judged(self, layout: Layout) -> tuple[Forces, Result]:
        """The verdict on a layout, and the forces that it was given with."""
        key = (id(self.forces), layout)
        if key not in self.verdicts:
            if len(self.verdicts) >= KEPT:
                self.verdicts.pop(next(iter(self.verdicts)))
            forces, result = judged(self.beam, self.code, self.forces, layout)
            self.verdicts[key] = (
                self.forces,
                forces,
                result,
            )  # the first keeps its `id` from being used again
        return self.verdicts[key][1:]


def searched(
    beam: Beam, code: DesignCode, forces: Forces, held: Layout | None, *, brief: bool = False
) -> Search:
    """The best design that is found, around what is held; `brief`: by the usual search alone."""
    task = Task(beam, code, forces, held)
    return _first(task) if brief else _searched(task)


def _searched(task: Task) -> Search:
    """The usual search, and others where it fails or is dear; the best of them."""
    beam, code = task.beam, task.code
    search = _first(task)
    own = Needs(continuous=search.continuous)
    if search.met_bends and search.best is not None and search.best.status == "fail":
        search.replace_by(_search(task, replace(own, yielding="top"), search))
    for other in _with_thicker_bars(beam, code, search):
        search.replace_by(
            _search(task.of(other), own, search)
        )  # the second may be cheaper than one that passes
    if _within_reach(search) and _lacks_room(search):
        search.replace_by(_search(task.of(_with_thinner_bars(beam, code, search, FACES)), own, search))
    if _within_reach(search) and _lacks_room(search, "anchorage"):
        search.replace_by(_search(task, replace(own, narrow=True), search))
    if beam.detailing.laps_for == "stress":  # over a short lap less of its bars is anchored: it may not pay
        search.replace_by(_search(task, replace(own, full_laps=True), search))
    for across in _stirrups_across(search):
        search.replace_by(_search(task, replace(own, across=across), search))
    if search.sagged and search.best is not None and search.best.status != "fail":
        _with_bars_in_compression(task, search, own)
    if search.cracked:
        thinner = _with_thinner_bars(beam, code, search, sorted(search.cracked))
        search.replace_by(_search(task.of(thinner), own, search))
    thicker = _with_thicker_stirrups(beam, code, search)
    if thicker is not None:
        search.replace_by(_search(task.of(thicker), own, search))
    _with_fewer_marks(task, search, own)
    if beam.detailing.further_rows and (
        (_within_reach(search) and _lacks_room(search)) or _laps_are_dear(search)
    ):
        rows = beam.detailing.layers + beam.detailing.further_rows
        search.replace_by(_searched(task.with_detailing(layers=rows, further_rows=0)))
    return search


def _first(task: Task) -> Search:
    """With bottom bars that run through supports only where the code asks for it; where no bars fit, inside
    the thickest stirrups; where that fails, with bars that run through."""
    beam, code, continuous = task.beam, task.code, _continuous(task.code)
    search = _search(task, Needs(continuous=continuous))
    if search.best is None and len(beam.detailing.stirrup_bars) > 1:
        # bars lie deeper inside thicker stirrups, and have the cover that their bond asks for
        thickest = max(beam.detailing.stirrup_bars, key=lambda size: code.sizes[size].diameter)
        inside = task.with_detailing(stirrup_bars=(thickest,))
        search.replace_by(_search(inside, Needs(continuous=continuous)))
    if not continuous and len(beam.spans) > 1 and (search.best is None or search.best.status == "fail"):
        search.replace_by(_search(task, Needs(continuous=True)))
    return search


def _with_bars_in_compression(task: Task, search: Search, own: Needs) -> None:
    """Once more where stiffness may come cheaper from bars in compression than from more of those in tension:
    with as many as a deflection asks for, and with thicker ones of those that run through at the top."""
    assert search.best is not None
    search.replace_by(_search(task, replace(own, filled=True), search, PAYS), saving=PAYS)
    if task.beam.detailing.hangers:
        return
    thick = {size: task.code.sizes[size].diameter for size in task.beam.detailing.sizes("top")}
    bars = search.best.layout.bars
    thinnest = min((thick.get(b.size, 0.0) for b in bars if b.face == "top"), default=0.0)
    most = max((task.code.sizes[b.size].diameter for b in bars if b.face == "bottom"), default=0.0)
    past = sum(phi <= most for phi in thick.values()) + 1
    for size in sorted(thick, key=lambda s: thick[s])[:past]:
        if thick[size] > thinnest:
            search.replace_by(_search(task.with_detailing(hangers=(size,)), own, search, PAYS), saving=PAYS)


def _with_fewer_marks(task: Task, search: Search, own: Needs) -> None:
    """Once more where a drawing would be slow to read, with as many lengths of bars and with fewer."""
    for lengths in range(task.beam.detailing.lengths, 0, -1):
        if search.best is not None and _many_marks(search.best):
            fewer = replace(search.best.beam, detailing=replace(search.best.beam.detailing, lengths=lengths))
            # seen to its end: what begins with more marks may cost less than it does at first
            search.replace_by(_search(task.of(fewer), replace(own, fewer_marks=True)))


@dataclass
class Search:
    """The best result so far and what it was found with; the needs of the last round that failed in service
    alone, of the last that passed but for a target of deflection, of the one after it if that failed, and of
    the best round that passed, and whether that one met the targets; faces whose cracks failed, and whether
    a deflection failed, or bends met others, on the way."""

    best: Result | None = None
    runners: tuple[Runner, ...] = ()
    weighed: int = 0
    rounds: int = 0
    reason: str = ""
    short: Needs | None = None
    missed: Needs | None = None
    beyond: Needs | None = None
    enough: Needs | None = None
    met: bool = False
    cracked: set[str] = field(default_factory=set)
    sagged: bool = False
    met_bends: bool = False
    continuous: bool = False

    def offer(self, result: Result, proposal: Proposal, needs: Needs) -> None:
        """Keep the better one."""
        failing = [c for c in result.checks if not c.ok and c.severity == "must"]
        wide = [c for c in failing if c.topic == "cracking" and c.quantity == "crack"]
        self.cracked |= {c.kind.face for c in wide}
        self.sagged |= any(c.topic == "deflection" for c in failing)
        self.met_bends |= any(c.kind.lesson == "bends apart" for c in failing)
        met = not targets(result)
        if failing and all(c.topic in ("deflection", "cracking") for c in failing):
            self.short = needs
        if not failing and not met:
            self.missed, self.beyond = needs, None
        if failing and self.missed is not None and self.beyond is None:
            self.beyond = needs
        if self.best is None or badness(result) < badness(self.best):
            self.best, self.runners, self.weighed = result, proposal.runners, proposal.weighed
            self.enough, self.met = None if failing else needs, met

    def bound(self, saving: float) -> float:
        """The cost above which another search is given up: from a little more than this design's it may be
        brought down again, and save so much. None where more than the cost can be bettered."""
        if self.best is None:
            return inf
        *lacking, cost = badness(self.best)
        return inf if any(lacking) else cost - (saving - REGAINED) * self.best.quantities["steel_cost"]

    def replace_by(self, other: Search, saving: float = 0.0) -> None:
        """By another search where that one found something better, which saves that share of the cost."""
        self.rounds += other.rounds
        if other.best is not None and (self.best is None or _better(other.best, self.best, saving)):
            self.best, self.runners, self.weighed, self.reason = (
                other.best,
                other.runners,
                other.weighed,
                other.reason,
            )
            self.cracked, self.continuous = other.cracked, other.continuous


def _stirrups_across(search: Search) -> list[dict[str, float]]:
    """By face the spacings of stirrups that anchorages and laps may count on, where that is wanted: the
    closest, a middle and the widest one that bars of the best design have across them."""
    if search.best is None or search.best.facts is None:
        return []
    placed = search.best.facts.placed
    if placed.around.crossing is None:
        return []
    gaps = np.asarray(placed.around.crossing.gap)
    own = {face: np.sort(gaps[placed.bottom == (face == "bottom")]) for face in FACES}
    tried: list[dict[str, float]] = []
    for share in (0.0, 0.5, 1.0):
        across = {face: float(v[int(share * (len(v) - 1))]) for face, v in own.items() if len(v)}
        if across not in tried:
            tried.append(across)
    return tried


def _continuous(code: DesignCode) -> bool:
    """Whether the code requires bottom bars to be continuous through supports."""
    return code.curtailment.continuity is not None


def _search(task: Task, asked: Needs, beside: Search | None = None, saving: float = 0.0) -> Search:
    """Rounds of proportioning and verification, each learning from the one before; what is `asked` for from
    the first on. Given up where it cannot save so much `beside` another search."""
    search = Search(continuous=asked.continuous)
    task = _rounds(task, asked, search, beside.bound(saving) if beside is not None else inf)
    short = search.missed if search.met and search.missed is not None else search.short
    low, high = search.missed, search.beyond
    if short is not None and search.enough is not None:
        _trim(task, search, short)
    if not search.met and low is not None and high is not None:
        _stretch(task, search, (low, high))
    if search.enough is not None and search.best is not None:
        longer = _for_one_former(search.best, search.enough)
        if longer is not None:
            _tried(task, search, longer)
        if not search.enough.nested and _rows_bent_together(search.best):
            _nest(task, search)
    return search


def _rounds(task: Task, asked: Needs, search: Search, bound: float) -> Task:
    """Fills the search; the task with the forces of its last round. What lacks nothing but steel and costs
    more than the `bound` is not made dearer still."""
    needs, tightened = asked.copy(), 0
    last, same, before = needs.copy(), 0, None
    for search.rounds in range(1, ROUNDS + 12):
        try:
            proposal = task.proposed(needs)
        except NoProposal as error:
            if search.best is not None and not needs.filled and search.short is not None:
                # no room for that much tension steel: compression steel instead, where stiffness is what is
                # missing
                needs = last.copy()
                needs.filled = True
                if learn(task.beam, task.code, search.best, needs):
                    continue
            if search.best is not None or needs.relief.get(error.face, 1.0) < 0.15:
                break
            search.reason = search.reason or str(error)
            needs.relief[error.face] = 0.85 * needs.relief.get(error.face, 1.0)
            continue
        same, before = same + 1 if proposal.layout == before else 0, proposal.layout
        if same >= IDLE:
            break
        forces, result = task.judged(proposal.layout)
        task, last = replace(task, forces=forces), needs.copy()
        search.offer(result, proposal, last)
        if badness(result)[-1] > bound:
            break
        # one that passes late has its further rounds as well
        late = search.rounds >= ROUNDS and result.status == "fail"
        if needs.relief or late or not learn(task.beam, task.code, result, needs):
            break
        if result.status != "fail":
            tightened += 1
            if tightened > TIGHTENED:
                break
    return task


def _for_one_former(result: Result, enough: Needs) -> Needs | None:
    """With legs on which all bars of a size can be bent round the widest former that one of them needs; None
    where they are."""
    needs, facts = enough.copy(), result.facts
    assert facts is not None
    bent = mandrels_of(result.beam, facts.code, facts.placed)
    widest: dict[str, float] = {}
    for bar, mandrel in zip(facts.placed.bars, bent, strict=True):
        widest[bar.size] = max(widest.get(bar.size, 0.0), mandrel)
    for bar, phi, mandrel in zip(facts.placed.bars, facts.placed.diameter.tolist(), bent, strict=True):
        if 0.0 < mandrel < widest[bar.size]:
            for kind in {"bend", "hook"} & set(bar.ends):
                needs.raise_legs(
                    bar.face, bar.size, facts.code.detailing.minimum_leg(phi, kind, widest[bar.size])
                )
    return needs if needs.bend_legs != enough.bend_legs else None


def _rows_bent_together(result: Result) -> bool:
    """Whether bars of two rows of a face are bent at one place."""
    bent = {
        (bar.face, side, x, bar.layer)
        for bar in result.layout.bars
        for side, x in enumerate((bar.start, bar.end))
        if bar.ends[side] in ("bend", "hook")
    }
    return len({place[:3] for place in bent}) < len(bent)


def _nest(task: Task, search: Search) -> None:
    """Upper rows bent behind the first, where the beam passes with them as well."""
    assert search.enough is not None
    assert search.best is not None
    before = badness(search.best)
    result = _tried(task, search, replace(search.enough.copy(), nested=True))
    if result is not None and badness(result)[:-1] <= before[:-1]:
        search.best = result


def _tried(task: Task, search: Search, needs: Needs) -> Result | None:
    """One round more with these needs; None where no bars fit."""
    search.rounds += 1
    try:
        proposal = task.proposed(needs)
    except NoProposal:
        return None
    _, result = task.judged(proposal.layout)
    search.offer(result, proposal, needs)
    return result


def _stretch(task: Task, search: Search, ends: tuple[Needs, Needs]) -> None:
    """Between needs that missed a target of deflection and those that left the beam no room: as far as it
    goes, by bisection, if that brings the deflection as near to its target as it can be foretold."""
    low, high = ends
    before = replace(search)
    for _ in range(TRIMMED):
        middle = high.between(low)
        result = _tried(task, search, middle)
        if search.met:
            return
        low, high = (low, middle) if result is None or result.status == "fail" else (middle, high)
    assert search.best is not None
    if max(c.ratio for c in targets(search.best)) > FORETOLD:
        search.best, search.runners, search.weighed = before.best, before.runners, before.weighed


def _trim(task: Task, search: Search, low: Needs) -> None:
    """Between needs that were short in service (`low`) and those that were enough: the least that will do,
    by bisection."""
    high, best = search.enough, search.best
    assert high is not None
    assert best is not None
    for _ in range(TRIMMED):
        middle = high.between(low)
        result = _tried(task, search, middle)
        if result is None:
            return
        lacking = result.status == "fail" or tight(result) or _missed(result) > _missed(best)
        low, high = (middle, high) if lacking else (low, middle)


ROOM = ("bending", "ductility", "fit", "stirrups", "lap")  # what fails where bars are too many for their rows


def _lacks_room(search: Search, *more: str) -> bool:
    """Whether the best design fails, and for something that fewer bars could mend, or of one of `more`
    topics."""
    if search.best is None or search.best.status != "fail":
        return False
    failing = {c.topic for c in search.best.checks if not c.ok and c.severity == "must"}
    return bool(failing & {*ROOM, *more})


REACH = 2.0  # what fails by more no other arrangement of bars mends


def _within_reach(search: Search) -> bool:
    """Whether the best design fails by so little that other arrangements may pass; bars that do not develop
    at an end fail by any measure."""
    if search.best is None:
        return False
    failing = [c for c in search.best.checks if not c.ok and c.severity == "must" and c.topic != "anchorage"]
    return all(c.ratio <= REACH for c in failing)


def _with_thicker_bars(beam: Beam, code: DesignCode, search: Search) -> list[Beam]:
    """The beam without bars thinner than the thickest on each face of a design that lacks room, and without
    that size as well: fewer bars stand in fewer rows, and compressed ones need fewer legs."""
    if not _lacks_room(search):
        return []
    assert search.best is not None
    bars = search.best.layout.bars
    beams: list[Beam] = []
    for further in (False, True):
        faces = dict(beam.detailing.face_bars)
        for face in FACES:
            used = max((code.sizes[b.size].diameter for b in bars if b.face == face), default=0.0)
            sizes = beam.detailing.sizes(face)
            thicker = (s for s in sizes if code.sizes[s].diameter > used - (not further))
            faces[face] = tuple(thicker) or sizes
        if faces not in (beam.detailing.face_bars, *(b.detailing.face_bars for b in beams)):
            beams.append(replace(beam, detailing=replace(beam.detailing, face_bars=faces)))
    return beams


def _with_thinner_bars(beam: Beam, code: DesignCode, search: Search, thick: Iterable[str]) -> Beam:
    """The beam with the largest size that was used left out on the faces where it is too `thick`."""
    faces = dict(beam.detailing.face_bars)
    bars = search.best.layout.bars if search.best is not None else ()
    for face in thick:
        used = [code.sizes[bar.size].diameter for bar in bars if bar.face == face]
        sizes = beam.detailing.sizes(face)
        thinner = tuple(s for s in sizes if code.sizes[s].diameter < max(used, default=0.0))
        faces[face] = thinner or sizes
    return replace(beam, detailing=replace(beam.detailing, face_bars=faces))


def _with_thicker_stirrups(beam: Beam, code: DesignCode, search: Search) -> Beam | None:
    """The beam with thicker stirrups alone than those of its design, where some of these stand close; None
    where none do, or there are no thicker ones."""
    if search.best is None or not _close(search.best):
        return None
    used = max(code.sizes[z.size].diameter for z in search.best.layout.stirrups)
    left = tuple(s for s in beam.detailing.stirrup_bars if code.sizes[s].diameter > used)
    return replace(beam, detailing=replace(beam.detailing, stirrup_bars=left)) if left else None


CLOSE = 4.0  # steps, 100 mm or 4 in: stirrups nearer to each other are dearer to fix and to concrete


def _close(result: Result) -> int:
    """Number of stirrups that stand closer than a detailer would have them."""
    limit = CLOSE * result.beam.detailing.step - 1.0
    return sum(z.count for z in result.layout.stirrups if z.count > 1 and z.spacing < limit)


MARKS = 4  # of bars a span: a drawing with more is slow to read


def _laps_are_dear(search: Search) -> bool:
    """Whether bars are too long for stock, or lapped where stirrups stand close: more and thinner ones, in
    more rows, have shorter laps."""
    if search.best is None:
        return False
    lapped = any("lap" in b.ends for b in search.best.layout.bars)
    too_long = any(c.kind.id == "stock.bars" for c in search.best.checks if not c.ok)
    return too_long or (lapped and _close(search.best) > 0)


def _many_marks(result: Result) -> int:
    """Number of marks of bars beyond those of a drawing that reads well; none where the least steel is
    wanted."""
    if result.beam.detailing.lean:
        return 0
    return max(len({bar.mark for bar in result.layout.bars}) - MARKS * len(result.beam.spans), 0)


NEARLY = 0.1  # a target of deflection missed by no more counts once, by twice as much four times


def _missed(result: Result) -> int:
    """Targets of deflection that are missed, each by the square of how far: two missed narrowly are better
    than one missed by a third."""
    return sum(ceil(((c.ratio - 1.0) / NEARLY) ** 2) for c in targets(result))


def _more_formers(result: Result) -> int:
    """Formers beyond one for each size that is bent: the bender changes them bar by bar."""
    facts = result.facts
    assert facts is not None
    bent = zip(facts.placed.bars, mandrels_of(result.beam, facts.code, facts.placed), strict=True)
    used = {(bar.size, mandrel) for bar, mandrel in bent if mandrel}
    return len(used) - len({size for size, _ in used})


def _better(one: Result, other: Result, saving: float) -> bool:
    """Whether `one` is less bad than the `other`, where only cost differs by that share of the steel's."""
    *mine, cost = badness(one)
    *others, bound = badness(other)
    return (mine, cost) < (others, bound - saving * other.quantities["steel_cost"])


def badness(result: Result) -> tuple[int, float, int, float]:
    """What fails, what is tight, and the cost, in which a close stirrup counts twice, a mark too many as much
    as a further size of bar, and a further former for a size as much as a mark."""
    # a bar longer than stock is advice to a user, and no design while there is another
    failing = [c for c in result.checks if not c.ok and (c.severity == "must" or c.kind.id == "stock.bars")]
    worst = max((c.ratio for c in failing), default=0.0)
    rates = result.beam.detailing.rates
    cost = result.quantities["cost"] + _close(result) * rates.stirrup + _many_marks(result) * rates.variety
    if not result.beam.detailing.lean:
        cost += _more_formers(result) * rates.mark
    return len(failing), worst, len(tight(result)) + _missed(result), cost
