"""Would a test notice? Small changes to the code, one at a time, each held against its tests."""
