"""BS 8110-1:1997 and BS 8110-2:1985: beams of reinforced concrete, with cube strengths."""

CODES, ORDER = ("bs8110-97",), 5
