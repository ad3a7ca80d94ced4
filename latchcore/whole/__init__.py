"""Questions of the whole build: rails, pins, barriers, wires, the story from power-on."""
