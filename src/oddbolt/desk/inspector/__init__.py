"""The margin: what is selected, edited in place."""
