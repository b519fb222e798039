"""The demo study: an invented tide logger of an invented maker, and what it shows."""
