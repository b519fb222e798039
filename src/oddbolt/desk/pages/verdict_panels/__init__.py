"""Parts of the page Verdict."""
