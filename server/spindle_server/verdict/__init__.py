"""Verdict: what can honestly be said of a motor, and on what it rests."""
