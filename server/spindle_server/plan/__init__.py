"""Campaigns: what is asked, which runs answer it, and which of them is next."""
