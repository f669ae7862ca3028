"""What other benches measured, quoted with their grade and held against what is measured here."""
