# SPDX-License-Identifier: MIT
"""Says validation errors in words, and makes the bodies of answers, from packs of sentences (docs/reference/packs.md)."""

from .bodies import body, fields_answer, problem_answer
from .languages import load, preferred
from .sentences import FORMAT, Sentences

__all__ = ["FORMAT", "Sentences", "body", "fields_answer", "load", "preferred", "problem_answer"]
