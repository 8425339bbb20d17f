"""ACI 318-19 and ACI 318M-19: one code in two sets of expressions, which differ in the third digit."""
