"""Rank: which motor wins for which use, and how surely."""
