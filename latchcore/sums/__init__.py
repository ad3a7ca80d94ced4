"""
The published formulas, one module a physical subject; floats or numpy arrays alike, SI units
throughout.
"""
