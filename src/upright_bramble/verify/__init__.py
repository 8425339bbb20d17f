"""Layout + forces -> checks: judges a design exactly as it judges a user's bars, and changes no bar."""

from upright_bramble.verify.result import Check, Message, Result
from upright_bramble.verify.verification import verify
from upright_bramble.working import Working


def workings(result: Result) -> tuple[Working, ...]:
    """Derivations of all checks of a result, in their order; found when they are asked for."""
    from upright_bramble.verify.derive import workings as found

    return found(result)


__all__ = ["Check", "Message", "Result", "verify", "workings"]
