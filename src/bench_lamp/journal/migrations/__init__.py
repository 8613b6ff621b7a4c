"""The journal's schema, step by step."""
