"""Parts of the page Parts."""
