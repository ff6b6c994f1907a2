"""Command lines of the person's own: read into words, with the files in their place.

No shell is involved.
"""

from __future__ import annotations

import shlex
from collections.abc import Sequence
from typing import Final

from winnow.say import say

FILES: Final = "{files}"


class CommandError(ValueError):
    """A command line that can't be used, in words."""


def words_of(command: str) -> list[str]:
    """The words of a command line, quoted as in a POSIX shell. Raises CommandError.

    Nothing else of a shell has a meaning: no variables, no wildcards, no redirections.
    """
    try:
        words = shlex.split(command)
    except ValueError:
        raise CommandError(say("A quotation mark is not closed.")) from None
    if not words:
        raise CommandError(say("The command is empty."))
    if words[0] == FILES:
        raise CommandError(say("The command begins with the program, then come the files."))
    if any(FILES in word and word != FILES for word in words):
        raise CommandError(
            say("{files} must be a word of its own: each file becomes one word.", files=FILES)
        )
    if words.count(FILES) > 1:
        raise CommandError(say("{files} can be there only once.", files=FILES))
    return words


def with_files(command: str, files: Sequence[str]) -> list[str]:
    """The words of a command with the files in place of ``{files}``, or at the end.

    Raises CommandError.
    """
    words = words_of(command)
    at = words.index(FILES) if FILES in words else len(words)
    return [*words[:at], *files, *words[at + 1 :]]
