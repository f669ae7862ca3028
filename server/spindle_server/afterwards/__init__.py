"""Afterwards: flights, what readers and makers write, and what waits for its day."""
