"""The house rules page: one rule with what speaks for each of its options."""

from collections.abc import Mapping

from bench_lamp.cards.card import Card, Choice
from bench_lamp.case.house_rules import BY_KEY, RULES, chosen


def rules_card(rules: Mapping[str, str], key: str) -> Card:
    """Show one rule's schools, the shop's own lit."""
    found = BY_KEY.get(key, RULES[0])
    mine = chosen(rules, found.key)
    return Card(
        id=f"rule:{found.key}",
        kind="House rule",
        title=found.question,
        choices=tuple(
            Choice(
                key=str(number),
                text=f"{option.name}{'  ·  chosen' if option.name == mine else ''}",
                note=f"for: {option.pro}\nagainst: {option.con}",
                draft={"rule": found.key, "option": option.name},
            )
            for number, option in enumerate(found.options, start=1)
        ),
        why_heading="It changes",
        why=(
            f"{found.changes}.",
            "The program prefers none of these rules: each is followed alike.",
        ),
        can_skip=False,
    )
