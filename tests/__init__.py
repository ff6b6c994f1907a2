"""Tests of Winnow; they read its texts in English, unless another language is asked for."""

import os

os.environ.setdefault("LANGUAGE", "en")
