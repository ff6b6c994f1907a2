"""Random moments to kill a child at, that fall within its work however fast the machine is."""

import os
import random
import signal
import time


class Moments:
    """The window they are drawn from follows how often the work had ended: it settles at about one of three."""

    def __init__(self, rng: random.Random, longest_s: float) -> None:
        self.rng = rng
        self.longest_s = longest_s

    def kill(self, child: int) -> int:
        """SIGKILL for the process `child`, and wait for its end: the status that `os.waitpid` gave."""
        time.sleep(self.rng.uniform(0, self.longest_s))
        os.kill(child, signal.SIGKILL)
        _, status = os.waitpid(child, 0)
        self.longest_s *= 1.07 if os.WIFSIGNALED(status) else 0.87
        return status
