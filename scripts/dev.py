"""Starts Winnow with the demo, and the page with hot reload, on one address: make dev."""

from __future__ import annotations

import os
import socket
import subprocess
import sys
from pathlib import Path

ROOT = Path(__file__).parent.parent


def free_port() -> int:
    """A port on this computer that nobody listens at."""
    with socket.socket() as listener:
        listener.bind(("127.0.0.1", 0))
        port: int = listener.getsockname()[1]
    return port


def main() -> int:
    """Run both until Ctrl+C, or until one of them ends."""
    page, server = free_port(), free_port()
    vite = subprocess.Popen(
        ["npx", "vite", "--host", "127.0.0.1", "--port", str(page), "--strictPort",
        "--clearScreen", "false"],
        cwd=ROOT / "frontend",
        env={**os.environ, "WINNOW_SERVER": f"http://127.0.0.1:{server}"},
        stdout=subprocess.DEVNULL,
    )  # fmt: skip
    try:
        subprocess.run(
            [
                sys.executable, "-m", "winnow", "demo",
                "--port", str(server), "--page-from", f"127.0.0.1:{page}",
            ],
            cwd=ROOT,
        )  # fmt: skip
    except KeyboardInterrupt:
        pass
    finally:
        vite.terminate()
        vite.wait(20)
    return 0


if __name__ == "__main__":
    sys.exit(main())
