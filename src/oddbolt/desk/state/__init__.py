"""What the window knows: the open study, its figures, clocks, timers, settings."""
