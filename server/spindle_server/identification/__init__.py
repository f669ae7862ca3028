"""Motors and propellers as the accepted runs tell them, and what is expected of the next run."""
