"""The simulated bench: stand-ins for what lies on a real one."""
