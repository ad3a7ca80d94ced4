"""All that tries edits out: remedies, advisor, variants, ways out, ways into a machine, spread."""
