"""
Stages with several lines: what each combination of them does, which come about, what disarms those
that must not.
"""
