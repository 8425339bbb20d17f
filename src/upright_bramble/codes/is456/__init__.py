"""IS 456:2000: beams of plain and reinforced concrete, with cube strengths and tables by grade."""

CODES, ORDER = ("is456-2000",), 4
