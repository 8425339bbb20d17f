"""ACI 318-19 in inch-pound expressions, ACI 318M-19 in SI ones."""

CODES, ORDER = ("aci318-19", "aci318m-19"), 2
