"""The kit, waits, small sums, and from how far a label is read."""
