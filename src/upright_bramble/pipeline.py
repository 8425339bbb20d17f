"""The stages chained: analyse, proportion, verify."""

from __future__ import annotations

from dataclasses import dataclass, replace

from upright_bramble.analysis import Forces, analyse
from upright_bramble.beam import Beam, Combining, ForceLine, Layout
from upright_bramble.codes import DesignCode, get_code
from upright_bramble.errors import BrambleError
from upright_bramble.judging import judged
from upright_bramble.verify import Message, Result
from upright_bramble.verify.levels import over_levels
from upright_bramble.verify.result import ACCEPTING


class UnknownAction(BrambleError):
    """An action that the beam does not have."""


class NoBars(BrambleError):
    """No allowed bars fit the section at all; the message says why and what would help."""


@dataclass(frozen=True)
class Designed:
    """The best design found: its result, how many rounds it took, and (where they were sought) what would
    cure it when it fails.

    `result` is None when no allowed bars fit at all; then `reason` says why.
    """

    result: Result | None
    rounds: int
    reason: str = ""
    cures: tuple[str, ...] = ()


def code_of(beam: Beam) -> DesignCode:
    return get_code(beam.code, beam.annex, beam.code_values)


def run_forces(beam: Beam) -> Forces:
    return analyse(beam, code_of(beam))


def only_action(beam: Beam, name: str) -> Beam:
    """The beam under one action alone, unfactored and on all its spans: its characteristic level is that
    action.

    Raises UnknownAction.
    """
    if name == "settlement" and any(s.settles for s in beam.supports):
        return replace(beam, actions=(), combining=Combining())
    for action in beam.actions:
        if action.name == name:
            supports = tuple(replace(s, settles=0.0) for s in beam.supports)
            alone = replace(action, kind="permanent", category=None, psi=None)
            if action.lines:
                return replace(beam, given=_at_every_level(beam, action.lines))
            return replace(beam, actions=(alone,), supports=supports, combining=Combining())
    known = [a.name for a in beam.actions] + ["settlement"] * any(s.settles for s in beam.supports)
    raise UnknownAction(f"'{name[:40]}' is not a valid action (valid: {', '.join(known)})")


def only_permanent(beam: Beam) -> Beam:
    """The beam under its permanent actions alone, unfactored: its characteristic level is what is there
    before the finishes.

    Raises UnknownAction where there are none.
    """
    own = tuple(a for a in beam.actions if a.kind == "permanent")
    if not own:
        raise UnknownAction("there is no permanent action")
    if "permanent" in beam.given:
        return replace(beam, given=_at_every_level(beam, beam.given["permanent"]))
    return replace(
        beam,
        actions=own,
        supports=tuple(replace(s, settles=0.0) for s in beam.supports),
        combining=Combining(),
    )


def _at_every_level(beam: Beam, lines: tuple[ForceLine, ...]) -> dict[str, tuple[ForceLine, ...]]:
    """Forces from tables as they are, whatever is looked at."""
    return dict.fromkeys(code_of(beam).actions.levels, lines)


def run_check(beam: Beam, layout: Layout) -> Result:
    """Verification alone: no bar is changed."""
    code = code_of(beam)
    result = judged(beam, code, analyse(beam, code), layout)[1]
    return _by_level(beam, code, result) if beam.levels else result


def _by_level(beam: Beam, code: DesignCode, shared: Result) -> Result:
    """A layout of alike beams, each level verified with its own loads."""
    parts = [
        (name, judged(level, code, analyse(level, code), shared.layout)[1]) for name, level in beam.levels
    ]
    return over_levels(shared, parts)


def run_design(beam: Beam, held: Layout | None = None, *, brief: bool = False) -> Designed:
    """Proportion and verify in turn until every check passes or nothing more helps.

    Where service governs, the steel that it asks for is brought down again as far as it goes, and thinner
    bars are tried against cracks. `brief`: what other searches might find is not sought.
    """
    if beam.levels:
        return _shared(beam, held)
    designed = _designed(beam, held, brief=brief)
    if brief or not beam.detailing.lean:
        return designed
    plain = _designed(replace(beam, detailing=replace(beam.detailing, style="plain")), held)
    return _leaner(designed, plain)


FIRMER = 3  # times that a design of alike beams is made stronger where a level by itself fails


def _shared(beam: Beam, held: Layout | None) -> Designed:
    """One design for alike beams: for the envelope of all their sets of forces, and then verified level by
    level.

    Where a level still fails by itself the whole is designed with as much more reserve.
    """
    from upright_bramble.searching import badness

    code, best, reserve = code_of(beam), Designed(None, 0), beam.detailing.reserve
    for _ in range(FIRMER):
        designed = _designed(replace(beam, detailing=replace(beam.detailing, reserve=reserve)), held)
        if designed.result is None:
            return designed if best.result is None else best
        result = _by_level(beam, code, designed.result)
        designed = replace(
            designed, result=replace(result, beam=replace(result.beam, detailing=beam.detailing))
        )
        if best.result is None or badness(designed.result) < badness(best.result):  # type: ignore[arg-type]
            best = designed
        over = max(
            (c.ratio for c in result.checks if not c.ok and c.severity == "must" and c.topic in ACCEPTING),
            default=0.0,
        )
        if result.status != "fail" or not 1.0 < over < 1.3:
            break
        reserve += over - 1.0 + 0.01
    return best


def _leaner(lean: Designed, plain: Designed) -> Designed:
    """The lean design, unless the plain one has less steel or is the only one that passes: each is the best
    of its own search."""
    if lean.result is None or plain.result is None:
        return lean if plain.result is None else plain
    failing, other = ((r.status == "fail", r.quantities["steel_kg"]) for r in (lean.result, plain.result))
    if failing <= other:
        return lean
    beam = lean.result.beam
    return replace(
        plain, result=replace(plain.result, beam=beam, forces=replace(plain.result.forces, beam=beam))
    )


def _designed(beam: Beam, held: Layout | None, *, brief: bool = False) -> Designed:
    """By the beam's own style."""
    from upright_bramble.searching import searched  # `check` starts without it

    code = code_of(beam)
    forces = analyse(beam, code)
    beam = forces.beam  # with what works of its flanges
    search = searched(beam, code, forces, held, brief=brief)
    best, reason = search.best, search.reason
    if best is not None and best.beam.detailing != beam.detailing:
        best = replace(best, beam=beam, forces=replace(best.forces, beam=beam))
    failed = best is None or best.status == "fail"
    if best is not None and failed and reason:
        best = replace(best, messages=(*best.messages, Message("fail", reason)))
    if best is not None:
        best = replace(best, weighed=search.weighed, runners=search.runners)
    return Designed(best, search.rounds, reason)
