"""How right Winnow's figures are on pictures it was never made for.

Free photographs go through a camera model (``camera``), so that blur, shake, light and groups are
known. They are split: what is tuned may look at one part, the other is only measured. See
``__main__`` for the command.
"""
