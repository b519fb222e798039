"""The form of each command's answer with ``--json``, as JSON Schema (draft 2020-12)."""
