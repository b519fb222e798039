"""Standards tables and catalogues. Every row names its source and whether it was verified against it."""
