"""Theme, tables and inputs that every page uses."""
