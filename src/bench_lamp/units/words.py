"""Words as they begin a line."""


def opening(text: str) -> str:
    """Write the first letter large and leave the rest, since names have capitals of their own.

    >>> opening("supply from J3 on U7")
    'Supply from J3 on U7'
    """
    return text[:1].upper() + text[1:]
