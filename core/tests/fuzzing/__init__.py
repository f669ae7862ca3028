"""Files that nobody should have written, made by the thousand from files that are whole."""
