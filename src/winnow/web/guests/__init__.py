"""A shoot that is shared on the local network: who its guests are, and what they may do."""
