"""
Pieces of circuits that stages share: drivers, pulls, clamps, contacts, quench, holding, loads
joined.
"""
