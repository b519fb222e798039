"""Words to clauses: tokens, vocabulary, verbs, noun groups."""
