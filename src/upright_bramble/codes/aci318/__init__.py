"""ACI 318-19 in inch-pound expressions, ACI 318M-19 in SI ones; the edition of 2014 by its differences."""

CODES, ORDER = ("aci318-19", "aci318m-19", "aci318-14", "aci318m-14"), 2
