"""Mitsuba, set to its vectorised variant before anything uses it."""

import mitsuba as mi

mi.set_variant("llvm_ad_rgb")

__all__ = ["mi"]
