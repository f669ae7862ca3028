"""What may be said of it: statements that keep their figures, and a whole bench as a report."""
