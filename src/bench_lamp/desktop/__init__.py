"""Desktop: the window. Shows state and advice, appends what the technician says.

For: theme, window, one module a stage, small widgets, printing, the session.
May import: every room, and Qt.
Must not: hold rules, do arithmetic on readings, or be imported by another room.
"""
