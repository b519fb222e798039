"""The window. The only place that knows Qt; a page shows and asks, the core computes."""
