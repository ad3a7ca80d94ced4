"""
How the data is kept: packed revisions, verdicts, copies, integrity, what is thrown away after
ninety days.
"""
