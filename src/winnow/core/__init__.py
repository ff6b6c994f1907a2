"""The computation and the rules. Pure: arrays and data classes in, data classes out."""
