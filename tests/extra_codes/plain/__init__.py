"""A made-up third code: tabulated shear stress, one load factor, anchorage in bar diameters, a rule of its own."""

CODES, ORDER = ("plain-1",), 9
