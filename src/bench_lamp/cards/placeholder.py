"""The card that holds the place of another while the reasoning works."""

from bench_lamp.cards.card import Card


def thinking_card() -> Card:
    """Hold the place of a card that depends on the reasoning, until that is there."""
    return Card(
        id="thinking",
        title="Weighing what was read",
        why_heading="Meanwhile",
        why=(
            "Every fault of the power tree is being worked out, with its tolerances. "
            "Esc stops that, and goes by the fuse map.",
        ),
        can_skip=False,
    )
