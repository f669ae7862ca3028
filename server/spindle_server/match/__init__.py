"""Match: what a craft should carry."""
