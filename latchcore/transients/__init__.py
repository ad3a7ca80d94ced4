"""Waveforms in closed form."""
