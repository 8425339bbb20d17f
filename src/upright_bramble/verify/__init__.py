"""Layout + forces -> checks: judges a design exactly as it judges a user's bars, and changes no bar."""

from upright_bramble.verify.result import Check, Message, Result
from upright_bramble.verify.verification import verify

__all__ = ["Check", "Message", "Result", "verify"]
