"""
Figures: text a person typed, quantities, spreads, preferred values, windows with their limits, the
recorder of sums.
"""
