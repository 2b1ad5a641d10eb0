"""The rule book: every rule with its fields, source, limits and worked cases, runnable."""

from core.rulebook.registry import RULES, rule

__all__ = ["RULES", "rule"]
