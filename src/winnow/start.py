"""Where the command starts: nothing else is here, as each worker process imports it again."""

from __future__ import annotations


def main() -> int:
    """Run the command line; returns the exit status."""
    from winnow.cli.main import main as command

    return command()
