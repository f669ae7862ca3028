"""Runs taken out of the house: tables, points and logs of many runs in one archive."""
