"""What runs without a window.

For: `bench-lamp check FILE`. May import: everything but the desktop.
"""
