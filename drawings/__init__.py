"""Drawings from reports, as SVG text."""
