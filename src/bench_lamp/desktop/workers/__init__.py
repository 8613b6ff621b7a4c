"""What runs in threads of its own: one module a thread."""
