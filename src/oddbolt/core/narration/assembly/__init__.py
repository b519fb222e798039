"""Assembly: spans and labels of an utterance into drafts, with numbers and sizes read by exact code."""
