"""What is set: how far each thing is, by its readings and turns; a module a kind.

May import: what the room `case` may.
"""
