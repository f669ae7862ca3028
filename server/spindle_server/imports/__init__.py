"""Other people's files: looked at, mapped, recognised again, and stored as runs."""
