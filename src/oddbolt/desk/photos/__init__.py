"""Photos on their way in."""
