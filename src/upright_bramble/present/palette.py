"""One identity on terminal and figure."""

INK = "#241B2F"
BERRY = "#6D2E6B"
LEAF = "#2F7D5B"
THORN = "#B8442B"
STRAW = "#C98A12"
MIST = "#ECE7EF"
BERRY_PALE = "#C9A9C8"
BERRY_FAINT = "#EBDDEA"

WORDS = {"pass": ("pass", LEAF), "incomplete": ("incomplete", STRAW), "fail": ("fail", THORN)}
