"""Getting a device open: its outline, the way round its edge, and how glue warms up."""
