"""The stages of the work, a page each."""
