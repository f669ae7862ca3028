"""Files in and out. The only part of the core that reads or writes anything."""
