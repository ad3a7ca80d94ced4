"""The computing core of Zinc Latch: a build document goes in, a report comes out."""
