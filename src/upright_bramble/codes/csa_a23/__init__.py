"""CSA A23.3:19 with the load combinations of NBCC 2020: beams, with material factors and hard-metric bars."""

CODES, ORDER = ("csa-a23.3-19",), 3
